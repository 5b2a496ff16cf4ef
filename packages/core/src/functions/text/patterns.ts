import type { RE2JS } from 're2js'
import type { KernelCall, TextRule } from '../define.js'
import { failRow, LONGEST_TEXT, perRow, textsOf } from '../kernel-rows.js'
import { hasPatterns, patternEngine } from './pattern-engine.js'

/** What the checker knows of an argument that is a pattern. */
export const regularPattern: TextRule = {
  argument: 1,
  expects: 'a pattern in RE2 syntax',
  isUsable: (pattern) => compilePattern(pattern) !== null,
  fault: 'bad-pattern',
  isReady: hasPatterns,
}

/** Runs `compute` for each row with the pattern of argument 2, compiled once while it stays the same. */
export function perPattern(call: KernelCall, compute: (row: number, pattern: RE2JS) => void): void {
  const patterns = textsOf(call, 1)
  let known: string | undefined
  let compiled: RE2JS | null = null
  perRow(call, (row) => {
    const pattern = patterns[row] as string
    if (pattern !== known) {
      known = pattern
      compiled = compilePattern(pattern)
    }
    if (compiled === null) failRow(call, row, 'bad-pattern')
    else compute(row, compiled)
  })
}

function compilePattern(pattern: string): RE2JS | null {
  const { RE2JS, RE2JSSyntaxException } = patternEngine()
  try {
    return RE2JS.compile(pattern)
  } catch (error) {
    if (error instanceof RE2JSSyntaxException) return null
    throw error
  }
}

/**
 * A text with every find replaced; in the new text `$1` … `$9` are groups (nothing where a group took no part or there is
 * none) and `$$` is a dollar sign.
 *
 * @returns null when it would be longer than a formula may make
 */
export function replaceAll(text: string, pattern: RE2JS, by: string): string | null {
  const pieces = by.split(/\$([$1-9])/)
  const matcher = pattern.matcher(text)
  let made = ''
  let at = 0
  while (matcher.find()) {
    made += text.slice(at, matcher.start())
    for (const [index, piece] of pieces.entries()) {
      if (index % 2 === 0) made += piece
      else if (piece === '$') made += '$'
      else if (Number(piece) <= matcher.groupCount()) made += matcher.group(Number(piece)) ?? ''
    }
    at = matcher.end()
    if (made.length > LONGEST_TEXT) return null
  }
  made += text.slice(at)
  return made.length > LONGEST_TEXT ? null : made
}
