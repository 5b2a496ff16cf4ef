// Reads what the comments of the operations say, as editors show it: what each does, what its fields mean, examples.
import { readdirSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { runInNewContext } from 'node:vm'
import ts from '@typescript/typescript6'

const core = fileURLToPath(new URL('../packages/core/', import.meta.url))
const folder = join(core, 'src/book/schemas')

const { config } = ts.readConfigFile(join(core, 'tsconfig.json'), ts.sys.readFile)
const { options } = ts.parseJsonConfigFileContent(config, ts.sys, core)
const files = readdirSync(folder).map((name) => join(folder, name))
const program = ts.createProgram(files, { ...options, composite: false, incremental: false, noEmit: true })
const checker = program.getTypeChecker()

const textOf = (symbol) => ts.displayPartsToString(symbol.getDocumentationComment(checker)).replaceAll(/\s*\n\s*/g, ' ')

/** By operation, the type of what callers write with its symbol. */
const types = new Map(files.flatMap(operationsOf))

function operationsOf(file) {
  const exported = checker.getExportsOfModule(checker.getSymbolAtLocation(program.getSourceFile(file)))
  return exported.flatMap((symbol) => {
    if ((symbol.flags & ts.SymbolFlags.TypeAlias) === 0 || symbol.name.startsWith('Journaled')) return []
    const type = checker.getDeclaredTypeOfSymbol(symbol)
    const op = type.isUnion() ? undefined : type.getProperty('op')
    const literal = op === undefined ? undefined : checker.getTypeOfSymbol(op)
    return literal?.isStringLiteral() ? [[literal.value, { symbol, type }]] : []
  })
}

/**
 * What the comment of an operation says.
 *
 * @returns what it `does`, and its `examples` as objects
 */
export function commentOf(op) {
  const { symbol } = types.get(op)
  const examples = symbol.getJsDocTags(checker).filter(({ name }) => name === 'example')
  // Through JSON, so that the objects are of this realm.
  const read = ({ text }) => JSON.parse(JSON.stringify(runInNewContext(`(${ts.displayPartsToString(text)})`)))
  return { does: textOf(symbol), examples: examples.map(read) }
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
    const symbol = propertyOf(plain, name)
    const description = name === 'op' ? undefined : textOf(symbol)
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

function propertyOf(type, name) {
  return membersOf(type).flatMap((one) => one.getProperty(name) ?? [])[0]
}

const membersOf = (type) => (type.isUnion() ? type.types : [type])
