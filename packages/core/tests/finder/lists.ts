import type { Operation, ValueType } from '../../src/index.js'

/** Rows of a made-up list, as a person types them. */
export interface List {
  readonly name: string
  readonly columns: readonly { readonly name: string; readonly type: ValueType }[]
  readonly rows: readonly Readonly<Record<string, string | number | null>>[]
}

/** Reads a list: names with their types in the first line, then rows, with bars between; nothing between two bars is blank. */
function list(name: string, text: string): List {
  const [head = '', ...lines] = text.trim().split('\n')
  const columns = head.split('|').map((column) => {
    const [of = '', type = 'text'] = column.split(':')
    return { name: of, type: type as ValueType }
  })
  const read = (cell: string, type: ValueType): string | number | null =>
    cell === '' ? null : type === 'number' || type === 'integer' ? Number(cell) : cell
  const rows = lines.map((line) => {
    const cells = line.split('|')
    return Object.fromEntries(columns.map((column, at) => [column.name, read(cells[at] ?? '', column.type)]))
  })
  return { name, columns, rows }
}

/** Members of the co-operative. */
export const MEMBERS = list(
  'members',
  `
full_name|family_first|first|last|untidy|titled|mail|phone|number|hives:integer|role
Ada Linden|LINDEN, Ada|Ada|Linden|  ada linden|Dr Ada Linden|ada.linden@thistle.example|(020) 5550-0101|TC-0007-A|4|keeper
Bea Moor|MOOR, Bea|Bea|Moor|BEA  MOOR|Ms Bea Moor|bea.moor@comb.example|(0117) 5550-0102|TC-0012-B|12|keeper
Cyril van Ash|VAN ASH, Cyril|Cyril|Ash|cyril   ash |Mr Cyril Ash|c.ash@thistle.example|(020) 5550-0199|TC-0103-A|7|trader
Dora Peak|PEAK, Dora|Dora|Peak|Dora Peak|Ms Dora Peak|dora@heron.example|(0131) 5550-0104|TC-0200-C|1|guest
Enid Marsh|MARSH, Enid|Enid|Marsh| enid marsh|Dr Enid Marsh|enid.marsh@comb.example|(020) 5550-0155|TC-0041-B|25|keeper
Fay Rowan|ROWAN, Fay|Fay|Rowan|FAY ROWAN  |Ms Fay Rowan|fay.rowan@thistle.example|(0117) 5550-0106|TC-0009-A|3|trader
Gil de Wolde|DE WOLDE, Gil|Gil|Wolde|gil  wolde|Mr Gil Wolde|gil@wolde.example|(020) 5550-0107|TC-0077-C|9|guest
Hal Brook|BROOK, Hal|Hal|Brook|hal brook|Mr Hal Brook|hal.brook@comb.example|(0131) 5550-0188|TC-0310-A|16|keeper
Ina Thorn|THORN, Ina|Ina|Thorn|INA THORN|Ms Ina Thorn|ina@thorn.example|(020) 5550-0109|TC-0054-B|2|guest
Jon Alder|ALDER, Jon|Jon|Alder| jon alder |Mr Jon Alder|jon.alder@thistle.example|(0117) 5550-0110|TC-0006-C|31|keeper
Kit Heron|HERON, Kit|Kit|Heron|kit heron|Dr Kit Heron|kit.heron@heron.example|(020) 5550-0111|TC-0118-A|5|trader
Lou Birch|BIRCH, Lou|Lou|Birch|lou  birch|Ms Lou Birch|lou@comb.example|(0131) 5550-0112|TC-0023-B|8|keeper
`,
)

/** Where they are to be found. */
export const PLACES = list(
  'places',
  `
address|town|postcode|point|link|street|house:integer
12 Mill Lane, Birch Ford, BF2 4QA|Birch Ford|BF2 4QA|51.2034, -1.4432|https://places.example/birch-ford/12|Mill Lane|12
3 Heath Road, Lower Moor, LM1 7TZ|Lower Moor|LM1 7TZ|51.3120, -1.5001|https://places.example/lower-moor/3|Heath Road|3
140 Orchard Way, Old Quarry, OQ9 1AB|Old Quarry|OQ9 1AB|50.9987, -1.3210|https://places.example/old-quarry/140|Orchard Way|140
8 River Row, Heron Reach, HR3 3CD|Heron Reach|HR3 3CD|51.0501, -1.2999|https://places.example/heron-reach/8|River Row|8
27 Church Hill, Birch Ford, BF1 2XY|Birch Ford|BF1 2XY|51.2100, -1.4511|https://places.example/birch-ford/27|Church Hill|27
5 Mill Lane, Knoll, KN4 4EF|Knoll|KN4 4EF|51.4450, -1.6020|https://places.example/knoll/5|Mill Lane|5
66 West Street, Lower Moor, LM2 5GH|Lower Moor|LM2 5GH|51.3099, -1.4987|https://places.example/lower-moor/66|West Street|66
9 Clover Close, Old Quarry, OQ2 8JK|Old Quarry|OQ2 8JK|50.9901, -1.3302|https://places.example/old-quarry/9|Clover Close|9
31 Bramble Walk, Mill Wood, MW5 6LM|Mill Wood|MW5 6LM|51.1234, -1.3876|https://places.example/mill-wood/31|Bramble Walk|31
2 Ford End, Heron Reach, HR1 9NP|Heron Reach|HR1 9NP|51.0555, -1.3010|https://places.example/heron-reach/2|Ford End|2
18 Top Field, Knoll, KN7 1QR|Knoll|KN7 1QR|51.4402, -1.6100|https://places.example/knoll/18|Top Field|18
44 Station Road, Mill Wood, MW8 2ST|Mill Wood|MW8 2ST|51.1301, -1.3790|https://places.example/mill-wood/44|Station Road|44
`,
)

/** Codes on hives, batches and jars. */
export const CODES = list(
  'codes',
  `
tag|batch|jar|label|file|serial:integer|site|note
LM-01-25|B2026/07/LM#014|HON-HEA-0340-G|heather honey [340 g]|scan_LM_2026.csv|7|LM|queen seen
LM-02-26|B2026/06/OQ#002|HON-CLO-0250-G|clover honey [250 g]|scan_OQ_2025.csv|12|OQ|robbing, moved
OQ-03-24|B2025/07/BF#120|WAX-BLK-1000-K|wax block [1000 g]|notes_BF_2026.txt|103|BF|swarm cells seen
BF-14-25|B2026/08/HR#033|HON-LIM-0340-G|lime honey [340 g]|scan_HR_2024.csv|4|HR|calm
HR-05-26|B2025/06/KN#007|COM-CUT-0200-B|cut comb [200 g]|photo_KN_2026.png|58|KN|no queen, robbing
KN-06-24|B2026/07/MW#045|HON-HEA-0500-G|heather honey [500 g]|scan_MW_2025.csv|9|MW|calm
MW-07-25|B2025/09/OQ#011|WAX-PEL-0500-K|wax pellets [500 g]|notes_OQ_2026.txt|230|OQ|swarm left
OQ-08-24|B2026/06/BF#101|HON-BRA-0250-G|bramble honey [250 g]|photo_BF_2024.png|15|BF|queen seen, calm
BF-09-23|B2025/08/LM#009|COM-CUT-0400-B|cut comb [400 g]|scan_LM_2025.csv|81|LM|robbing
LM-10-25|B2026/05/HR#064|HON-CLO-0500-G|clover honey [500 g]|notes_HR_2026.txt|2|HR|swarm cells
HR-11-23|B2025/07/KN#078|HON-LIM-0250-P|lime honey [250 g]|scan_KN_2026.csv|640|KN|calm
KN-12-24|B2026/09/MW#003|WAX-BLK-0250-K|wax block [250 g]|photo_MW_2025.png|33|MW|queen seen
`,
)

/** Days, as ten programs write them, and as dates. */
export const DAYS = list(
  'days',
  `
slashed|american|dotted|short|packed|written|spelt|plain|iso|timed|day:date|ends:date|at:datetime
14/03/2026|03/14/2026|14.03.2026|14-03-26|20260314|14 Mar 2026|March 14, 2026|14.3.2026|2026-03-14|14/03/2026 09:30|2026-03-14|2026-03-29|2026-03-14T09:30:00
02/11/2025|11/02/2025|02.11.2025|02-11-25|20251102|2 Nov 2025|November 2, 2025|2.11.2025|2025-11-02|02/11/2025 17:05|2025-11-02|2025-12-24|2025-11-02T17:05:00
28/02/2024|02/28/2024|28.02.2024|28-02-24|20240228|28 Feb 2024|February 28, 2024|28.2.2024|2024-02-28|28/02/2024 08:00|2024-02-28|2024-03-02|2024-02-28T08:00:00
09/07/2026|07/09/2026|09.07.2026|09-07-26|20260709|9 Jul 2026|July 9, 2026|9.7.2026|2026-07-09|09/07/2026 12:45|2026-07-09|2026-07-16|2026-07-09T12:45:00
31/12/2025|12/31/2025|31.12.2025|31-12-25|20251231|31 Dec 2025|December 31, 2025|31.12.2025|2025-12-31|31/12/2025 23:59|2025-12-31|2026-02-14|2025-12-31T23:59:00
01/05/2026|05/01/2026|01.05.2026|01-05-26|20260501|1 May 2026|May 1, 2026|1.5.2026|2026-05-01|01/05/2026 06:15|2026-05-01|2026-05-02|2026-05-01T06:15:00
17/08/2024|08/17/2024|17.08.2024|17-08-24|20240817|17 Aug 2024|August 17, 2024|17.8.2024|2024-08-17|17/08/2024 14:20|2024-08-17|2024-10-01|2024-08-17T14:20:00
23/10/2025|10/23/2025|23.10.2025|23-10-25|20251023|23 Oct 2025|October 23, 2025|23.10.2025|2025-10-23|23/10/2025 10:10|2025-10-23|2025-10-30|2025-10-23T10:10:00
05/01/2026|01/05/2026|05.01.2026|05-01-26|20260105|5 Jan 2026|January 5, 2026|5.1.2026|2026-01-05|05/01/2026 19:40|2026-01-05|2026-01-26|2026-01-05T19:40:00
30/06/2024|06/30/2024|30.06.2024|30-06-24|20240630|30 Jun 2024|June 30, 2024|30.6.2024|2024-06-30|30/06/2024 11:00|2024-06-30|2024-07-28|2024-06-30T11:00:00
11/09/2025|09/11/2025|11.09.2025|11-09-25|20250911|11 Sep 2025|September 11, 2025|11.9.2025|2025-09-11|11/09/2025 16:30|2025-09-11|2025-11-20|2025-09-11T16:30:00
19/04/2026|04/19/2026|19.04.2026|19-04-26|20260419|19 Apr 2026|April 19, 2026|19.4.2026|2026-04-19|19/04/2026 07:50|2026-04-19|2026-05-03|2026-04-19T07:50:00
`,
)

/** Amounts with marks around them, as they are copied from elsewhere. */
export const AMOUNTS = list(
  'amounts',
  `
grouped|paid|kilos|jars|parts|span|size|reading|digits:integer
1,234.50|EUR 12.50|3.2 kg|12 jars|75 %|3-7|20x30|temp=18.4;hum=61|7
12.00|GBP 7.00|12.5 kg|7 jars|12 %|12-15|15x15|temp=21.0;hum=55|12
980.25|EUR 103.25|0.75 kg|140 jars|50.5 %|1-9|40x60|temp=9.7;hum=80|140
10,002.75|CHF 0.80|8 kg|33 jars|8 %|20-45|25x35|temp=15.2;hum=72|33
3.40|EUR 55.10|21.4 kg|5 jars|99 %|8-8|10x12|temp=30.1;hum=38|5
45,000.00|GBP 9.99|5.05 kg|61 jars|33 %|2-30|18x24|temp=12.8;hum=66|61
7.05|EUR 41.00|17 kg|18 jars|41.2 %|14-16|50x70|temp=24.5;hum=49|18
612.90|EUR 230.75|2.2 kg|2 jars|5 %|5-12|30x40|temp=7.3;hum=91|2
2,048.16|CHF 6.45|9.9 kg|90 jars|66 %|9-10|12x18|temp=19.9;hum=58|90
99.99|EUR 18.20|14.25 kg|25 jars|20 %|33-40|22x28|temp=16.6;hum=70|25
150.00|EUR 72.30|30 kg|44 jars|87.5 %|6-18|16x20|temp=27.4;hum=42|44
8,300.10|EUR 5.05|6.6 kg|8 jars|10 %|11-21|36x48|temp=11.1;hum=84|8
`,
)

/** What was measured at hives. */
export const MEASURES = list(
  'measures',
  `
site|mites:number|bees:number|gross:number|tare:number|frames:integer|price:number|celsius:number|stores:number|last:number|spare:number
LM|3|300|14.2|1.2|4|9.5|18.5|3.1|3|1
LM|0|250|9.8|0.9|3|8|21|15||2
OQ|12|300|21.5|1.5|6|9.5|-2.5|12.1|10.5|3
OQ|5|200|17|1.25|5|11.25|15|8||4
OQ|1|100|6.4|0.8|2|7.5|30|19.7|2|5
BF|7|280|30.1|2.1|8|10|12.25|16.5||6
BF|2|320|12.75|1|4|9|24.5|2.4||7
LM|9|300|8|0.75|2|8.8|7|14|8|8
BF|4|160|19.6|1.6|6|12|19.5|13.1|4.5|9
OQ|15|250|25.3|2|7|9.5|16|5|12|10
LM|6|240|11.1|1.1|3|10.4|27|19.9||11
LM|8|200|16.4|1.3|5|8.25|-11|7.2|9|12
`,
)

/** The sites that hives stand at: what is measured leads to them by its site. */
export const SITES = list(
  'sites',
  `
code|full|region|metres:integer
LM|Lower Moor|west|120
OQ|Old Quarry|south|310
BF|Birch Ford|west|85
HR|Heron Reach|north|140
`,
)

/** What makes a list a table of a workbook. */
export function tableOf({ name, columns, rows }: List): Operation[] {
  return [
    { op: 'add-table', table: name, columns },
    { op: 'insert-rows', table: name, rows },
  ]
}
