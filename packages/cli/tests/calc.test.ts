import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { folderWith, mellow, mellowHere } from './run-mellow.js'

const INFESTATION = 'infestation = 100 * mites per bees_sampled'
const ACT = 'act = case when infestation is blank then "sample again" when infestation > 3 then "treat" else "wait" end'

const folder = folderWith({
  'inspections.csv': 'hive,mites,bees_sampled\nLM-01,9,300\nLM-02,0,0\nLM-03,,100\nLM-04,14,200\n',
  'odd.csv': '__proto__,2024,x\n1,2,q\n',
  'short.csv': 'a,b\n1\n1,2\n',
  'sizes.txt': '// what the demo shows\n\nload = infestation\n  * 2\ninfestation = 100 * mites per bees_sampled\n',
  'rows.json': '[{"a":1,"b":"x"},{"a":2,"b":null}]',
  'old.csv': 'the old content\n',
})
const run = (...args: string[]) => mellowHere(['calc', ...args], { folder })

describe('calc writes the file with the columns', () => {
  test('in any order of definitions', async () => {
    expect(await run('inspections.csv', ACT, INFESTATION)).toEqual({
      code: 0,
      err: '',
      out: 'hive,mites,bees_sampled,act,infestation\nLM-01,9,300,wait,3\nLM-02,0,0,sample again,\nLM-03,,100,sample again,\nLM-04,14,200,treat,7\n',
    })
  })

  test.each<[string, string[], string]>([
    [
      'a formulas file with a continued line',
      ['inspections.csv', '--formulas', 'sizes.txt', '--columns', 'hive,load'],
      'hive,load\nLM-01,6\nLM-02,\nLM-03,\nLM-04,14\n',
    ],
    [
      'where, order, columns, limit',
      [
        'inspections.csv',
        INFESTATION,
        '--where',
        'infestation is not blank',
        '--order',
        'infestation desc',
        '--columns',
        'infestation,hive',
        '--limit',
        '1',
      ],
      'infestation,hive\n7,LM-04\n',
    ],
    [
      'json',
      ['inspections.csv', 'x = 1 / bees_sampled', '--columns', 'x', '--limit', '2', '--to', 'json'],
      '[\n{"x":0.0033333333333333335},\n{"x":{"error":"division-by-zero"}}\n]\n',
    ],
    [
      'ndjson from odd names',
      ['odd.csv', 'y = `2024` + `__proto__`', '--to', 'ndjson'],
      '{"__proto__":1,"2024":2,"x":"q","y":3}\n',
    ],
    ['tsv', ['odd.csv', '--to', 'tsv'], '__proto__\t2024\tx\n1\t2\tq\n'],
    [
      'a replaced column that reads the one of the file',
      ['inspections.csv', 'mites = (mites ?? 0) * 10', 'twice = mites * 2', '--replace', '--columns', 'mites,twice'],
      'mites,twice\n90,180\n0,0\n0,0\n140,280\n',
    ],
    ['a replaced column in its place', ['odd.csv', '`2024` = `2024` + 1', '--replace'], '__proto__,2024,x\n1,3,q\n'],
    ['json read', ['rows.json', 'c = a & b'], 'a,b,c\n1,x,1x\n2,,2\n'],
    ['the clock', ['odd.csv', 'on = today()', '--now', '2026-03-14T09:30:00', '--columns', 'on'], 'on\n2026-03-14\n'],
    ['a locale', ['odd.csv', "big = upper('i')", '--locale', 'tr', '--columns', 'big'], 'big\nİ\n'],
    ['types', ['odd.csv', '--type', '2024=text', '--to', 'json', '--columns', '2024'], '[\n{"2024":"2"}\n]\n'],
    [
      'a table',
      ['inspections.csv', INFESTATION, '--to', 'table', '--limit', '2'],
      '○ hive  ○ mites  ○ bees_sampled  ● infestation\nLM-01         9             300              3\nLM-02         0               0\n… 2 more rows\n',
    ],
  ])('%s', async (_, args, out) => {
    const { code, out: written } = await run(...args)
    expect([code, written]).toEqual([0, out])
  })

  test('standard input is the table called input', async () => {
    expect(await mellowHere(['calc', '-', 'b = a + 1'], { input: 'a\n1\n' })).toEqual({ code: 0, out: 'a,b\n1,2\n', err: '' })
    const { code, err } = await mellowHere(['calc', '-', 'b = c'], { input: 'a\n1\n' })
    expect([code, err]).toEqual([1, expect.stringContaining('input.b: error unknown-name')])
  })

  test('-o replaces a file in one step, in the format of its name', async () => {
    const { code, out, err } = await run('odd.csv', '-o', 'new.json')
    expect([code, out, err]).toEqual([0, '', '1 row, 3 columns written to new.json\n'])
    expect(readFileSync(join(folder, 'new.json'), 'utf8')).toBe('[\n{"__proto__":1,"2024":2,"x":"q"}\n]\n')
    expect(readdirSync(folder).filter((name) => name.endsWith('.part'))).toEqual([])
  })

  test('a refusal leaves the old file', async () => {
    expect((await run('odd.csv', 'y = nope', '-o', 'old.csv')).code).toBe(1)
    expect(readFileSync(join(folder, 'old.csv'), 'utf8')).toBe('the old content\n')
    expect((await run('odd.csv', 'y = nope', '-o', 'fresh.csv')).code).toBe(1)
    expect(existsSync(join(folder, 'fresh.csv'))).toBe(false)
  })
})

describe('findings', () => {
  test('stand at their place, with carets and a fix', async () => {
    expect((await run('inspections.csv', 'load = 100 * mites per bee_sampled')).err).toBe(
      'inspections.load: error unknown-name: Table inspections has no column or value called bee_sampled. Nearest name: bees_sampled.\n' +
        '  100 * mites per bee_sampled\n                  ^^^^^^^^^^^\n  fix: Use bees_sampled\nNothing was written.\n',
    )
  })

  test('warnings are told and do not refuse, but under --strict', async () => {
    const falls = ['inspections.csv', INFESTATION, "act = if(infestation > 3, 'treat', 'wait')"]
    const mild = await run(...falls)
    expect([mild.code, mild.err]).toEqual([
      0,
      expect.stringContaining(
        'inspections.act: warning blank-falls-through: A blank infestation falls into the last branch. This happens on 2 rows.',
      ),
    ])
    const strict = await run(...falls, '--strict')
    expect([strict.code, strict.out, strict.err]).toEqual([1, '', expect.stringContaining('--strict refuses on warnings')])
    expect((await run('short.csv', '--strict')).code).toBe(1)
  })

  test('as JSON are an array of whole records and nothing else', async () => {
    const { code, err } = await run('short.csv', 'c = b +', '--findings', 'json')
    const findings = JSON.parse(err) as Record<string, unknown>[]
    expect(code).toBe(1)
    expect(findings.map((one) => one.code)).toEqual(['short-rows', 'expected-value'])
    for (const one of findings)
      expect(Object.keys(one)).toEqual(['code', 'severity', 'message', 'table', 'column', 'from', 'to', 'rows', 'fixes'])
    expect(JSON.parse((await run('odd.csv', '--findings', 'json')).err)).toEqual([])
  })

  test.each<[string, string[], string]>([
    ['unknown-name', ['y = nope'], 'odd.y: error unknown-name'],
    ['type-mismatch', ['y = x * 2'], 'Write number(x)'],
    ['cycle', ['a = b', 'b = c', 'c = a'], 'a → b → c → a'],
    ['name-taken', ['x = 1'], '--replace'],
    ['two definitions of one name', ['y = 1', 'Y = 2'], 'name-taken'],
    ['no definition', ['nonsense'], 'unfinished-definition'],
    ['a condition that is none', ['--where', '`2024` + 1'], '--where: error type-mismatch'],
    ['an order by nothing', ['--order', 'nope'], 'unknown-column'],
    ['too deep', [`y = ${'('.repeat(9000)}1${')'.repeat(9000)}`], 'too-deep'],
    ['20 000 parentheses', [`y = ${'('.repeat(20_000)}1`], 'formula-too-long'],
  ])('%s: refused with exit 1 and nothing written', async (_, args, message) => {
    const { code, out, err } = await run('odd.csv', ...args)
    expect([code, out]).toEqual([1, ''])
    expect(err).toContain(message)
    expect(err).not.toMatch(/\n\s+at |node:/)
  })
})

describe('a wrong command or file: exit 2, the reason, no trace', () => {
  const bad = folderWith({
    'empty.csv': '',
    'dup.csv': 'a,A\n1,2\n',
    'long.csv': 'a,b\n1,2,3\n',
    'unclosed.csv': 'a,b\n"1,2\n',
    'latin.csv': new Uint8Array([97, 10, 0xe9, 10]),
    'broken.json': '[{]',
  })
  test.each<[string, string[], string]>([
    ['a missing file', ['calc', 'missing.csv'], 'there is no such file'],
    ['a folder', ['calc', '.'], 'it is a folder'],
    ['an empty file', ['calc', 'empty.csv'], 'the file is empty'],
    ['equal headers', ['calc', 'dup.csv'], 'dup.csv: line 1: the columns a and A differ only in case'],
    ['a long row', ['calc', 'long.csv'], 'long.csv: line 2: expected 2 cells'],
    ['an unclosed quote', ['calc', 'unclosed.csv'], 'unclosed.csv: line 2: a quote'],
    ['another encoding', ['calc', 'latin.csv'], '--encoding windows-1252'],
    ['broken JSON', ['calc', 'broken.json'], 'broken.json: '],
    ['an unknown verb', ['calk'], 'Nearest: calc'],
    ['an unknown option', ['calc', 'dup.csv', '--colums', 'a'], 'Nearest: --column, --columns'],
    ['a missing argument', ['calc'], "missing required argument 'file'"],
    ['an unknown format', ['calc', 'dup.csv', '--to', 'xml'], 'Allowed choices'],
    ['an unknown type', ['calc', 'dup.csv', '--type', 'a=nubmer'], 'Nearest: number'],
    ['a limit that is none', ['calc', 'dup.csv', '--limit', '-1'], '--limit takes a whole number'],
    ['a zone that is none', ['calc', 'dup.csv', '--zone', 'Mars/Base'], 'no time zone called Mars/Base'],
    ['a clock that is none', ['calc', 'dup.csv', '--now', 'noon'], '--now takes a date or time'],
    ['a locale that is none', ['calc', 'dup.csv', '--locale', '??'], 'not a language tag'],
    ['a folder that is not there', ['calc', 'dup.csv', '-o', 'no/where.csv'], 'there is no folder no'],
    ['a missing formulas file', ['calc', 'dup.csv', '--formulas', 'no.txt'], 'cannot read no.txt'],
  ])('%s', async (_, args, message) => {
    const { code, out, err } = await mellowHere(args, { folder: bad })
    expect([code, out]).toEqual([2, ''])
    expect(err).toContain(message)
    expect(err).not.toMatch(/\n\s+at |node:/)
  })

  test('another encoding is read when it is named', async () => {
    expect((await mellowHere(['calc', 'latin.csv', '--encoding', 'windows-1252'], { folder: bad })).out).toBe('a\né\n')
  })
})

describe('large inputs', () => {
  const large = folderWith({
    'cell.csv': `a,b\n1,"${'x'.repeat(20_000_000)}"\n2,y\n`,
    'wide.csv': `${Array.from({ length: 5000 }, (_, index) => `c${index}`).join()}\n${Array.from({ length: 5000 }, (_, index) => index).join()}\n`,
    'chain.txt': Array.from(
      { length: 1500 },
      (_, index) => `d${1500 - index} = ${index === 1499 ? 'a' : `d${1499 - index}`} + 1`,
    ).join('\n'),
  })
  test.each<[string, string[], string]>([
    ['a cell of 20 MB', ['cell.csv', 'size = length(b)', '--columns', 'a,size'], 'a,size\n1,20000000\n2,1\n'],
    ['5 000 columns', ['wide.csv', 'sum = c0 + c4999', '--columns', 'sum'], 'sum\n4999\n'],
    ['a chain of 1 500 definitions', ['cell.csv', '--formulas', 'chain.txt', '--columns', 'd1500'], 'd1500\n1501\n1502\n'],
  ])('%s', async (_, args, out) =>
    expect(await mellowHere(['calc', ...args], { folder: large })).toEqual({ code: 0, err: '', out }),
  )

  test('a reader that closes the pipe ends the tool quietly', async () => {
    const rows = folderWith({ 'rows.csv': `n\n${Array.from({ length: 300_000 }, (_, index) => index).join('\n')}\n` })
    const { spawn } = await import('node:child_process')
    const { fileURLToPath } = await import('node:url')
    const bin = fileURLToPath(new URL('../bin/mellow.js', import.meta.url))
    const run = await new Promise<{ code: number | null; err: string }>((resolve) => {
      let err = ''
      const child = spawn('bash', ['-c', `set -o pipefail; "${process.execPath}" "${bin}" calc rows.csv | head -1`], {
        cwd: rows,
      })
      child.stderr.on('data', (text) => {
        err += String(text)
      })
      child.on('close', (code) => resolve({ code, err }))
    })
    expect(run).toEqual({ code: 0, err: '' })
  })
})

test('noise is tidy on the terminal, and whole in files', async () => {
  const folder = folderWith({ 'kg.csv': 'kg\n12.3456789012\n9.8765432109\n' })
  const calc = async (...args: string[]): Promise<string> =>
    (await mellowHere(['calc', 'kg.csv', 'half = kg / 2', ...args], { folder })).out
  expect(await calc('--to', 'table')).toBe('   ○ kg   ● half\n12.3457  6.17284\n 9.8765  4.93827\n')
  expect(await calc('--to', 'csv')).toBe('kg,half\n12.3456789012,6.1728394506\n9.8765432109,4.93827160545\n')
  expect(await calc('--to', 'table', '--exact')).toContain('12.3456789012')
})

describe('several tables', () => {
  const tables = folderWith({
    'harvests.csv': 'hive,taken,honey_kg\nA,2026-06-01,12\nB,2026-06-02,5\nA,2026-06-03,3\nX,2026-06-04,1\n',
    'hives.csv': 'tag,yard\nA,LM\nB,OQ\n',
    'yards.csv': 'code,name\nLM,Lower Meadow\nOQ,Old Quarry\n',
    'weather.csv': 'day,rain_mm\n2026-06-01,3\n2026-06-02,0\n2026-06-03,4\n',
  })
  const links = [
    '--with',
    'hives=hives.csv',
    '--with',
    'yards=yards.csv',
    '--link',
    'hive -> hives.tag',
    '--link',
    'hives.yard -> yards.code',
  ]
  const calc = (...args: string[]) => mellowHere(['calc', 'harvests.csv', ...args], { folder: tables })

  test.each<[string, string[], string]>([
    [
      'links are followed',
      ['site = hive.yard.name', ...links, '--columns', 'hive,site'],
      'hive,site\nA,Lower Meadow\nB,Old Quarry\nA,Lower Meadow\nX,\n',
    ],
    [
      'totals, shares, ranks and running totals',
      [
        'share = share(honey_kg by hive)',
        'place = rank(honey_kg desc)',
        'sofar = cumulative_sum(honey_kg)',
        '--columns',
        'share,place,sofar',
      ],
      'share,place,sofar\n0.8,1,12\n1,2,17\n0.2,3,20\n1,4,21\n',
    ],
    [
      'another table by a condition',
      ['wet = count(every weather where day <= this.taken and rain_mm > 1)', '--with', 'weather=weather.csv', '--columns', 'wet'],
      'wet\n1\n1\n2\n2\n',
    ],
    [
      'a definition for a further table',
      ['hives.total = sum(harvests.honey_kg)', 'of_hive = hive.total', ...links, '--columns', 'of_hive'],
      'of_hive\n15\n5\n15\n\n',
    ],
    ['a named value', ['eur = honey_kg * price', '--value', 'price = 1.5', '--columns', 'eur'], 'eur\n18\n7.5\n4.5\n1.5\n'],
    [
      'groups with tallies, one of which uses another',
      ['--group', 'hive', '--tally', 'total = sum(honey_kg)', '--tally', 'mean = total / count()', '--order', 'total desc'],
      'level,hive,total,mean\n1,A,15,7.5\n1,B,5,5\n1,X,1,1\n0,,21,5.25\n',
    ],
    [
      'groups by a calculated column, of the rows kept',
      ['site = hive.yard.name', ...links, '--group', 'site', '--tally', 'total = sum(honey_kg)', '--where', 'honey_kg < 12'],
      'level,site,total\n1,Lower Meadow,3\n1,Old Quarry,5\n1,,1\n0,,9\n',
    ],
    [
      'tallies of all rows',
      ['--tally', 'total = sum(honey_kg)', '--tally', 'most = max(taken)'],
      'level,total,most\n0,21,2026-06-04\n',
    ],
    [
      'the innermost groups alone',
      ['--group', 'hive', '--tally', 'total = sum(honey_kg)', '--flat', '--limit', '2'],
      'hive,total\nA,15\nB,5\n',
    ],
    [
      'levels of formulas, with columns in the order typed',
      [
        ...['--group', 'early = taken < @2026-06-03, hive', '--line', 'part = total per parent.total'],
        ...['--tally', 'total = sum(honey_kg)', '--order', 'early desc', '--order', 'total at hive'],
      ],
      'level,early,hive,part,total\n1,true,,0.8095238095238095,17\n2,true,B,0.29411764705882354,5\n2,true,A,0.7058823529411765,12\n1,false,,0.19047619047619047,4\n2,false,X,0.25,1\n2,false,A,0.75,3\n0,,,,21\n',
    ],
    [
      'a parameter in a tally',
      ['--group', 'hive', '--parameter', 'low number = 4', '--tally', 'n = count(honey_kg > low)', '--limit', '1'],
      'level,hive,n\n1,A,2\n0,,4\n',
    ],
    [
      'the largest group, the others in one line',
      ['--group', 'hive', '--tally', 'total = sum(honey_kg)', '--top', '1 by total'],
      'level,hive,others,total\n1,A,,15\n1,,2,6\n0,,,21\n',
    ],
    [
      'groups that meet a condition, with their rows',
      ['--group', 'hive', '--column', 'honey_kg = honey_kg', '--tally', 'n = count()', '--having', 'n > 1'],
      'level,hive,others,honey_kg,n\n1,A,,,2\n2,A,,12,\n2,A,,3,\n1,,2,,2\n0,,,,4\n',
    ],
    ['a running balance', ['left = (lag(left) ?? 30) - honey_kg', '--columns', 'left'], 'left\n18\n13\n10\n9\n'],
  ])('%s', async (_, args, out) => {
    // One harvest is of a hive that is in no list, which is told wherever the link is there.
    const missing = 'harvests.hive: hint unmatched-keys: harvests.hive leads nowhere for 1 row: hives has no "X".\n'
    expect(await calc(...args)).toEqual({ code: 0, err: args.includes('--link') ? missing : '', out })
  })

  test.each<[string, string[], number, RegExp]>([
    [
      'a link without an arrow',
      ['--link', 'hive hives.tag'],
      1,
      /--link: error unfinished-definition: .*"hive -> hives.tag".*no "->"/s,
    ],
    [
      'a link to a table that is not there',
      ['--link', 'hive -> hive.tag', '--with', 'hives=hives.csv'],
      1,
      /unknown-table: .*hive.*hives/s,
    ],
    ['a further table without a file', ['--with', 'hives'], 2, /--with expects table=file/],
    ['a further file that is not there', ['--with', 'hives=none.csv'], 2, /none\.csv/],
    [
      'keys of two types',
      ['--with', 'hives=hives.csv', '--link', 'honey_kg -> hives.tag'],
      1,
      /honey_kg holds number, hives\.tag text/,
    ],
    ['a tally over single rows', ['--tally', 'x = honey_kg * 2'], 1, /unknown-name/],
    ['columns beside groups', ['--group', 'hive', '--columns', 'hive'], 2, /--columns does not go with groups/],
    ['an order by what is no column of the groups', ['--group', 'hive', '--order', 'hvie'], 1, /Nearest name: hive/],
    ['a total in a line', ['--group', 'hive', '--line', 'x = sum(honey_kg)'], 1, /harvests.x: error not-here: .*a tally/s],
    [
      'groups shown that are none',
      ['--group', 'hive', '--tally', 'n = count()', '--top', 'n 5'],
      2,
      /"5 by total at site", found "n"/,
    ],
    ['a level that there is not', ['--group', 'hive', '--tally', 'n = count()', '--order', 'n at hvie'], 1, /Nearest name: hive/],
    [
      'a name that the result has itself',
      ['--group', 'hive', '--tally', 'level = count()'],
      1,
      /already has a column called level/,
    ],
    ['no link', ['x = sum(hives.yard)', '--with', 'hives=hives.csv'], 1, /no-link|type-mismatch/],
    ['a cycle over tables', [...links, 'x = hive.y', 'hives.y = sum(harvests.x)'], 1, /cycle: .*x.*y/],
  ])('%s is refused', async (_, args, code, said) => {
    const run = await calc(...args)
    expect(run.err).toMatch(said)
    expect([run.code, run.out]).toEqual([code, ''])
  })
})

describe('a scan that takes long', () => {
  test('is told of, and its result is right all the same', async () => {
    const rows = 22_500
    const numbers = Array.from({ length: rows }, (_, row) => row % 5000)
    const large = folderWith({ 'many.csv': `x\n${numbers.join('\n')}\n` })
    const { code, out, err } = await mellow(['calc', 'many.csv', 'n = count(every many where x <> this.x)', '--limit', '2'], {
      folder: large,
    })
    expect(code).toBe(0)
    expect(out).toBe('x,n\n0,22495\n1,22495\n')
    expect(err).toContain('many.n: warning costly-scan: count(every many where x <> this.x) looks at 506250000 pairs of rows')
    expect(
      await mellow(['calc', 'many.csv', 'n = count(every many where x <> this.x)', '--strict'], { folder: large }),
    ).toMatchObject({
      code: 1,
      out: '',
    })
  }, 120_000)
})
