import { AMOUNTS, CODES, DAYS, type List, MEASURES, MEMBERS, PLACES } from './lists.js'

/** What someone wants who knows what should come out, and not how. */
export interface FinderTask {
  readonly family:
    | 'names'
    | 'addresses'
    | 'codes'
    | 'dates'
    | 'amounts'
    | 'bands'
    | 'ratios'
    | 'differences'
    | 'lookups'
    | 'groups'
  /** In a few words. */
  readonly wish: string
  readonly list: List
  /** The columns that are picked as sources. */
  readonly from: readonly string[]
  /** The new columns, each with a formula that gives what is wanted; any other one that gives the same is as right. */
  readonly wanted: Readonly<Record<string, string>>
  /** Numbers of the rows for which the wanted values are given, from 1. */
  readonly given: readonly number[]
}

type Row = readonly [wish: string, from: string, wanted: string | Readonly<Record<string, string>>, given: readonly number[]]

const tasksOf = (family: FinderTask['family'], list: List, rows: readonly Row[]): FinderTask[] =>
  rows.map(([wish, from, wanted, given]) => ({
    ...{ family, wish, list, given },
    from: from.split(', '),
    wanted: typeof wanted === 'string' ? { wanted } : wanted,
  }))

/** Tasks written before the finder, by what people ask for. */
export const TASKS: readonly FinderTask[] = [
  ...tasksOf('names', MEMBERS, [
    ['the first name', 'full_name', 'word(full_name, 1)', [1]],
    ['the last word of a name', 'full_name', 'word(full_name, -1)', [1, 3]],
    ['first and last name', 'full_name', { given_name: 'word(full_name, 1)', last_name: 'word(full_name, -1)' }, [1, 3]],
    ['initials', 'first, last', 'left(first, 1) & left(last, 1)', [1, 2]],
    ['initials with points', 'first, last', "left(first, 1) & '. ' & left(last, 1) & '.'", [1, 2]],
    ['the whole name', 'first, last', "first & ' ' & last", [1]],
    ['family name first', 'first, last', "last & ', ' & first", [1]],
    ['family name first in capitals', 'first, last', "upper(last) & ' ' & first", [1]],
    ['an initial and the family name', 'first, last', "left(first, 1) & '. ' & last", [1]],
    ['what stands behind the comma', 'family_first', "split_part(family_first, ', ', 2)", [1]],
    ['the family name as it is written', 'family_first', "title_case(split_part(family_first, ', ', 1))", [1, 2]],
    [
      'a name the right way round',
      'family_first',
      "split_part(family_first, ', ', 2) & ' ' & title_case(split_part(family_first, ', ', 1))",
      [1, 2],
    ],
    ['a tidy name', 'untidy', 'title_case(single_spaces(untidy))', [1, 2]],
    ['a name without spaces around it', 'untidy', 'trim(untidy)', [1, 2]],
    ['the title', 'titled', 'word(titled, 1)', [1]],
    ['a name without its title', 'titled', "word(titled, 2) & ' ' & word(titled, 3)", [1, 2]],
    ['the address before the at sign', 'mail', "split_part(mail, '@', 1)", [1]],
    ['the place behind the at sign', 'mail', "split_part(mail, '@', 2)", [1]],
    ['a name to sign in with', 'first, last', 'lower(left(first, 1) & last)', [1, 2]],
    ['a mail address', 'first, last', "lower(first) & '.' & lower(last) & '@comb.example'", [1, 2]],
    ['digits of a telephone number', 'phone', "replace_pattern(phone, '[^0-9]', '')", [1, 2]],
    ['the code of the area', 'phone', "capture(phone, '([0-9]+)')", [1, 2]],
    ['the number in the middle', 'number', "split_part(number, '-', 2)", [1]],
    ['the number in the middle as a number', 'number', "number(split_part(number, '-', 2))", [1, 2]],
  ]),
  ...tasksOf('addresses', PLACES, [
    ['the street with its number', 'address', "split_part(address, ', ', 1)", [1]],
    ['the town', 'address', "split_part(address, ', ', 2)", [1]],
    ['the code at the end', 'address', "split_part(address, ', ', 3)", [1]],
    [
      'three parts',
      'address',
      { line: "split_part(address, ', ', 1)", place: "split_part(address, ', ', 2)", code: "split_part(address, ', ', 3)" },
      [1],
    ],
    ['the number of the house', 'address', 'number(word(address, 1))', [1, 2]],
    ['the first half of a post code', 'postcode', 'word(postcode, 1)', [1]],
    ['the area of a post code', 'postcode', 'left(postcode, 2)', [1, 2]],
    ['a post code without its space', 'postcode', "replace(postcode, ' ', '')", [1]],
    ['the latitude', 'point', "number(split_part(point, ', ', 1))", [1]],
    ['the longitude', 'point', "number(split_part(point, ', ', 2))", [1]],
    ['the last part of a link', 'link', "split_part(link, '/', 5)", [1]],
    ['a town out of a link', 'link', "title_case(replace(split_part(link, '/', 4), '-', ' '))", [1, 2]],
    ['a line of an address', 'house, street', "house & ' ' & street", [1]],
    ['a whole address', 'house, street, town', "house & ' ' & street & ', ' & town", [1]],
    ['a town in capitals', 'town', 'upper(town)', [1]],
    ['a town as part of a link', 'town', "lower(replace(town, ' ', '-'))", [1, 2]],
  ]),
  ...tasksOf('codes', CODES, [
    ['the site', 'tag', "split_part(tag, '-', 1)", [1]],
    ['the stand as it is written', 'tag', "split_part(tag, '-', 2)", [1]],
    ['the stand as a number', 'tag', "number(split_part(tag, '-', 2))", [1, 4]],
    ['the year in full', 'tag', "2000 + number(split_part(tag, '-', 3))", [1, 2]],
    ['site and year', 'tag', "split_part(tag, '-', 1) & split_part(tag, '-', 3)", [1, 2]],
    ['what follows the mark', 'batch', "split_part(batch, '#', 2)", [1]],
    ['the number behind the mark', 'batch', "number(split_part(batch, '#', 2))", [1, 2]],
    ['the month of a batch', 'batch', "split_part(batch, '/', 2)", [1]],
    ['the site in the middle', 'batch', "split_part(split_part(batch, '/', 3), '#', 1)", [1, 2]],
    ['the year behind the first letter', 'batch', 'substring(batch, 2, 4)', [1, 3]],
    ['the kind', 'jar', 'left(jar, 3)', [1, 2]],
    ['grams of a jar', 'jar', "number(split_part(jar, '-', 3))", [1, 2]],
    ['the last letter', 'jar', 'right(jar, 1)', [1, 3]],
    ['what stands in brackets', 'label', "split_part(split_part(label, '[', 2), ']', 1)", [1, 2]],
    ['what stands before the brackets', 'label', "split_part(label, ' [', 1)", [1, 2]],
    ['the kind of a file', 'file', "split_part(file, '.', 2)", [1, 3]],
    ['a file without its kind', 'file', "split_part(file, '.', 1)", [1]],
    ['the year of a file', 'file', "split_part(split_part(file, '_', 3), '.', 1)", [1, 2]],
    ['four digits', 'serial', "pad_start(text(serial), 4, '0')", [1, 2]],
    ['a code of a site and three digits', 'site, serial', "site & '-' & pad_start(text(serial), 3, '0')", [1, 2]],
    ['a code in small letters with an underscore', 'tag', "lower(replace(tag, '-', '_'))", [1, 2]],
  ]),
  ...tasksOf('dates', DAYS, [
    ['a date with slashes', 'slashed', "parse_date(slashed, 'dd/MM/yyyy')", [1]],
    ['a date with the month first', 'american', "parse_date(american, 'MM/dd/yyyy')", [1]],
    ['a date with points', 'dotted', "parse_date(dotted, 'dd.MM.yyyy')", [1]],
    ['a date with two digits of the year', 'short', "parse_date(short, 'dd-MM-yy')", [1]],
    ['a date of eight digits', 'packed', "parse_date(packed, 'yyyyMMdd')", [1]],
    ['a date with a short month', 'written', "parse_date(written, 'd MMM yyyy')", [1]],
    ['a date with a long month', 'spelt', "parse_date(spelt, 'MMMM d, yyyy')", [1]],
    ['a date without zeros', 'plain', "parse_date(plain, 'd.M.yyyy')", [1]],
    ['a date as programs write it', 'iso', "parse_date(iso, 'yyyy-MM-dd')", [1]],
    ['a date with a time', 'timed', "parse_date(timed, 'dd/MM/yyyy HH:mm')", [1]],
    ['the year', 'day', 'year(day)', [1]],
    ['the month', 'day', 'month(day)', [1, 2]],
    ['the day of the month', 'day', 'day(day)', [1, 2]],
    ['the quarter', 'day', 'quarter(day)', [1, 2, 3]],
    ['year and month', 'day', "text(day, 'yyyy-MM')", [1, 2]],
    ['month in words', 'day', "text(day, 'MMMM')", [1]],
    ['short month and year', 'day', "text(day, 'MMM yyyy')", [1]],
    ['with slashes', 'day', "text(day, 'dd/MM/yyyy')", [1]],
    ['in words', 'day', "text(day, 'd MMMM yyyy')", [1]],
    ['the day of the week', 'day', "text(day, 'EEEE')", [1, 2]],
    ['the first of the month', 'day', "start_of(day, 'month')", [1, 2]],
    ['days between two dates', 'day, ends', 'ends - day', [1, 2]],
    ['months between two dates', 'day, ends', 'months_between(day, ends)', [1, 2, 3]],
    ['a week later', 'day', 'day + 7', [1, 2]],
    ['the hour', 'at', 'hour(at)', [1, 2]],
    ['the date of a time', 'at', 'date_of(at)', [1]],
    ['the time of the day', 'at', "text(at, 'HH:mm')", [1]],
    ['the year of a written date', 'written', 'word(written, 3)', [1, 3]],
  ]),
  ...tasksOf('amounts', AMOUNTS, [
    ['a number with commas', 'grouped', "number(replace(grouped, ',', ''))", [1, 4]],
    ['an amount without its currency', 'paid', 'number(word(paid, 2))', [1, 2]],
    ['the currency', 'paid', 'word(paid, 1)', [1, 2]],
    ['kilograms as a number', 'kilos', 'number(word(kilos, 1))', [1, 2]],
    ['grams', 'kilos', '1000 * number(word(kilos, 1))', [1, 2]],
    ['a number of jars', 'jars', 'number(word(jars, 1))', [1, 3]],
    ['a percentage as a number', 'parts', 'number(word(parts, 1))', [1, 3]],
    ['the least of a range', 'span', "number(split_part(span, '-', 1))", [1, 2]],
    [
      'both ends of a range',
      'span',
      { least: "number(split_part(span, '-', 1))", most: "number(split_part(span, '-', 2))" },
      [1, 2],
    ],
    ['how wide a range is', 'span', "number(split_part(span, '-', 2)) - number(split_part(span, '-', 1))", [1, 2, 4]],
    ['an area', 'size', "number(split_part(size, 'x', 1)) * number(split_part(size, 'x', 2))", [1, 4]],
    ['a value by its name', 'reading', "number(split_part(split_part(reading, 'temp=', 2), ';', 1))", [1, 2]],
    ['the other value', 'reading', "number(split_part(reading, 'hum=', 2))", [1, 2]],
    ['a number with its unit', 'digits', "digits & ' jars'", [1, 2]],
  ]),
  ...tasksOf('bands', MEASURES, [
    ['low and high', 'stores', "if(stores < 8, 'low', 'high')", [1, 2, 4]],
    ['cold and warm', 'celsius', "if(celsius < 10, 'cold', 'warm')", [1, 3, 8]],
    ['treat or wait', 'mites', "if(mites > 5, 'treat', 'wait')", [1, 3, 4]],
    ['three bands', 'frames', "case when frames <= 2 then 'small' when frames <= 5 then 'middle' else 'large' end", [2, 3, 5]],
    ['yes for the dear ones', 'price', "if(price >= 10, 'yes', 'no')", [1, 4, 6]],
    ['a mark below zero', 'celsius', "if(celsius < 0, 'frost', '')", [1, 3]],
  ]),
  ...tasksOf('bands', CODES, [
    ['whether a word is in a note', 'note', "contains(note, 'queen')", [1, 2]],
    ['alarm by a word', 'note', "if(contains(note, 'robbing'), 'alarm', 'fine')", [1, 2]],
    ['honey or not', 'jar', "if(starts_with(jar, 'HON'), 'honey', 'other')", [1, 3]],
    ['data or other files', 'file', "if(ends_with(file, '.csv'), 'data', 'other')", [1, 3, 5]],
  ]),
  ...tasksOf('ratios', MEASURES, [
    ['mites in a hundred bees', 'mites, bees', '100 * mites per bees', [1, 3]],
    ['mites a bee', 'mites, bees', 'mites per bees', [1, 3]],
    ['weight of a frame', 'gross, frames', 'gross per frames', [1, 2]],
    ['price by weight', 'price, gross', 'price * gross', [1, 2]],
    ['a fifth more', 'price', 'price * 1.2', [1, 2]],
    ['in grams', 'gross', 'gross * 1000', [1, 2]],
    ['a price to a whole number', 'price', 'round(price)', [1, 4, 6]],
    ['in fahrenheit', 'celsius', 'celsius * 1.8 + 32', [1, 2]],
    ['a weight to one digit', 'gross', 'round(gross, 1)', [1, 7]],
  ]),
  ...tasksOf('differences', MEASURES, [
    ['net', 'gross, tare', 'gross - tare', [1, 2]],
    ['net to one digit', 'gross, tare', 'round(gross - tare, 1)', [1, 7, 4]],
    ['how far from twenty', 'celsius', 'abs(celsius - 20)', [1, 2, 3]],
    ['both together', 'frames, spare', 'frames + spare', [1, 2]],
    ['ten less', 'stores', 'stores - 10', [1, 2]],
    ['since the row before', 'stores', 'difference(stores)', [2, 3]],
  ]),
  ...tasksOf('lookups', MEASURES, [
    ['one column, or the other where it is blank', 'last, spare', 'last ?? spare', [1, 2]],
    ['the greater of two', 'mites, frames', 'max_of(mites, frames)', [1, 3, 2]],
    ['the row before', 'mites', 'lag(mites)', [2, 3]],
    ['down from the row before where it is blank', 'last', 'last ?? lag(last)', [2, 3, 4]],
    ['nothing for a blank', 'last', 'last ?? 0', [1, 2]],
    // Along the link of what is measured to its site.
    ['the name of the site', 'site', 'site.full', [1, 3]],
    ['the region of the site', 'site', 'site.region', [1, 3]],
    ['how high the site is', 'site', 'site.metres', [1, 3]],
    ['the site with its region', 'site', "site & ', ' & site.region", [1, 3]],
  ]),
  ...tasksOf('groups', MEASURES, [
    ['the total of the site', 'site, gross', 'sum(gross by site)', [1, 3]],
    ['the mean of the site', 'site, frames', 'mean(frames by site)', [1, 3]],
    ['how many rows the site has', 'site', 'count(by site)', [1, 3]],
    ['percent of the site', 'site, mites', '100 * share(mites by site)', [1, 3]],
    ['percent of everything', 'mites', '100 * share(mites)', [1, 3]],
    ['the largest of the site', 'site, gross', 'max(gross by site)', [1, 3]],
    ['so far', 'mites', 'cumulative_sum(mites)', [2, 3]],
    ['so far in the site', 'site, mites', 'cumulative_sum(mites by site)', [2, 4]],
    ['the place by weight', 'gross', 'rank(gross desc)', [1, 2, 3]],
  ]),
]
