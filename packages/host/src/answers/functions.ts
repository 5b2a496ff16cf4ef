import type { FunctionFacts } from '@mellow-abacus/session'
import {
  type BookFunction,
  callForm,
  FUNCTION_FAMILIES,
  FUNCTIONS,
  type FunctionRecord,
  guideOf,
  searchFunctions,
} from 'mellow-abacus'

/** Functions that answer to words, best first and those of the workbook before others; all of them, family by family, for no words. */
export function functionsFor(words: string, own: readonly BookFunction[]): FunctionFacts[] {
  const asked = words.trim()
  const parts = asked.toLowerCase().split(/\s+/)
  const answers = ({ name, note, formula }: BookFunction): boolean =>
    parts.every((part) => `${name} ${note ?? ''} ${formula}`.toLowerCase().includes(part))
  const byFamily = (): FunctionRecord[] =>
    FUNCTION_FAMILIES.flatMap((family) => FUNCTIONS.filter((record) => record.family === family))
  const found = (asked === '' ? byFamily() : searchFunctions(asked)).map(factsOf)
  return [...own.filter(answers).map(factsOfOwn), ...found]
}

function factsOfOwn({ name, form, note, formula }: BookFunction): FunctionFacts {
  return { name, family: 'of this workbook', form, says: note ?? `= ${formula}`, example: null }
}

function factsOf(record: FunctionRecord): FunctionFacts {
  const { doc, examples } = guideOf(record)
  return {
    name: record.name,
    family: record.family,
    form: callForm(record),
    says: `${doc.split(/[.;:](?:\s|$)/)[0]}.`,
    example: examples[0]?.formula ?? null,
  }
}
