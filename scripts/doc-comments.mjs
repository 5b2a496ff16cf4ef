// What comments of the source say, as editors show them: read from the types of a folder of core.
import { readdirSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import ts from '@typescript/typescript6'

const core = fileURLToPath(new URL('../packages/core/', import.meta.url))
const { config } = ts.readConfigFile(join(core, 'tsconfig.json'), ts.sys.readFile)
const { options } = ts.parseJsonConfigFileContent(config, ts.sys, core)

/**
 * The types of the files of a folder.
 *
 * @param path - of the folder, from `packages/core/src`
 * @returns the `checker`, and the symbols that the files of the folder export
 */
export function typesOf(path) {
  const folder = join(core, 'src', path)
  const files = readdirSync(folder)
    .filter((name) => name.endsWith('.ts') && !name.endsWith('.test.ts'))
    .map((name) => join(folder, name))
  const program = ts.createProgram(files, { ...options, composite: false, incremental: false, noEmit: true })
  const checker = program.getTypeChecker()
  const modules = files.map((file) => checker.getSymbolAtLocation(program.getSourceFile(file)))
  return { checker, exported: modules.flatMap((module) => checker.getExportsOfModule(module)) }
}

/** The comment of a symbol, without its tags, in one line. */
export function textOf(symbol, checker) {
  return ts.displayPartsToString(symbol.getDocumentationComment(checker)).replaceAll(/\s*\n\s*/g, ' ')
}

/** The texts of the `@example`s of a symbol. */
export function examplesOf(symbol, checker) {
  const tags = symbol.getJsDocTags(checker).filter(({ name }) => name === 'example')
  return tags.map(({ text }) => ts.displayPartsToString(text))
}
