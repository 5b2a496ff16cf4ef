import type { FunctionFacts } from '@mellow-abacus/session'
import { callForm, FUNCTION_FAMILIES, FUNCTIONS, type FunctionRecord, guideOf, searchFunctions } from 'mellow-abacus'

/** Functions that answer to words, best first; all of them, family by family, for no words. */
export function functionsFor(words: string): FunctionFacts[] {
  const asked = words.trim()
  const byFamily = (): FunctionRecord[] =>
    FUNCTION_FAMILIES.flatMap((family) => FUNCTIONS.filter((record) => record.family === family))
  return (asked === '' ? byFamily() : searchFunctions(asked)).map(factsOf)
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
