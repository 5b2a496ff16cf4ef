// Reads what the comments of the operations say, as editors show it: what each does, what its fields mean, examples.
import { runInNewContext } from 'node:vm'
import ts from '@typescript/typescript6'
import { examplesOf, textOf, typesOf } from './doc-comments.mjs'

const { checker, exported } = typesOf('book/schemas')

/** By operation, the type of what callers write with its symbol. */
const types = new Map(exported.flatMap(operationOf))

function operationOf(symbol) {
  if ((symbol.flags & ts.SymbolFlags.TypeAlias) === 0 || symbol.name.startsWith('Journaled')) return []
  const type = checker.getDeclaredTypeOfSymbol(symbol)
  const op = type.isUnion() ? undefined : type.getProperty('op')
  const literal = op === undefined ? undefined : checker.getTypeOfSymbol(op)
  return literal?.isStringLiteral() ? [[literal.value, { symbol, type }]] : []
}

/**
 * What the comment of an operation says.
 *
 * @returns what it `does`, and its `examples` as objects
 */
export function commentOf(op) {
  const { symbol } = types.get(op)
  // Through JSON, so that the objects are of this realm.
  const read = (text) => JSON.parse(JSON.stringify(runInNewContext(`(${text})`)))
  return { does: textOf(symbol, checker), examples: examplesOf(symbol, checker).map(read) }
}

/** The JSON Schema of an operation with what the comments of its fields say. */
export function described(op, schema) {
  return withMeanings(schema, types.get(op).type, op)
}

function withMeanings(schema, type, path) {
  if (schema.anyOf !== undefined)
    return { ...schema, anyOf: schema.anyOf.map((one) => (one.type === 'null' ? one : withMeanings(one, type, path))) }
  const plain = checker.getNonNullableType(type)
  if (schema.type === 'array') return { ...schema, items: withMeanings(schema.items, elementOf(plain), `${path}[]`) }
  if (schema.properties === undefined) return schema
  const properties = Object.entries(schema.properties).map(([name, property]) => {
    const at = `${path}.${name}`
    const symbol = propertyOf(plain, name, Object.keys(schema.properties))
    const description = name === 'op' ? undefined : textOf(symbol, checker)
    if (description === '') throw new Error(`${at} has no comment`)
    return [
      name,
      { ...(description !== undefined && { description }), ...withMeanings(property, checker.getTypeOfSymbol(symbol), at) },
    ]
  })
  return { ...schema, properties: Object.fromEntries(properties) }
}

/** The type of what a list holds; what is no list stays, such as numbers that are also given as typed arrays. */
function elementOf(type) {
  const list = membersOf(type).find((one) => checker.isArrayType(one))
  return list === undefined ? type : checker.getTypeArguments(list)[0]
}

/** A property of a type; of one of several, that which has all of these names. */
function propertyOf(type, name, names) {
  const fitting = membersOf(type).filter((one) => names.every((other) => one.getProperty(other) !== undefined))
  return (fitting.length > 0 ? fitting : membersOf(type)).flatMap((one) => one.getProperty(name) ?? [])[0]
}

const membersOf = (type) => (type.isUnion() ? type.types : [type])
