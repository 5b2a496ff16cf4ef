import * as v from 'valibot'
import { readGiven, Text } from '../schemas/index.js'
import type { FitRequest } from './fit-types.js'

const finite = v.pipe(v.number(), v.finite())

const fitShape = v.strictObject({
  table: Text,
  y: Text,
  x: Text,
  where: v.optional(Text),
  degree: v.optional(finite),
  coefficients: v.optional(v.array(finite)),
})

/** Reads what is to be fitted. */
export const readFit = (given: FitRequest): FitRequest => readGiven('the fit', fitShape, given) as FitRequest
