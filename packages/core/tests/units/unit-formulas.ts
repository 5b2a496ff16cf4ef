/** The unit of a formula; `-` where it gives none, `?` before the codes of what is said of it. */
export interface UnitFormula {
  readonly formula: string
  readonly gives: string
}

/** Columns of one table: name, and unit behind a space; a name alone is a number without a unit, `:date` another type. */
export const COLUMNS = `kg kg|g g|t t|lb lb|m m|km km|cm cm|mm mm|in in|area m²|comb cm²|field ha|litres l|ml ml|vol m³|s s|min min|h h
days d|weeks wk|months mo|speed km/h|pace m/s|acc m/s²|force N|energy J|power W|kwh kWh|bar bar|hpa hPa|celsius °C|fahrenheit °F
kelvin K|lat °|turn rad|share %|euro EUR|dollar USD|price EUR/kg|wage €/h|frames frames|hives hive|pts pts|sugar g/l|bees {bees}
ph pH|n|k|day:date|until:date|at:datetime|start:datetime|name:text|ok:boolean`

const LINES = `
kg | kg
kg + kg | kg
kg - kg | kg
-kg | kg
kg + 2 | kg
2 * kg | kg
kg * 2 | kg
kg / 2 | kg
kg / kg | -
kg * kg | kg²
kg per frames | kg/frames
kg / h | kg/h
1 / h | 1/h
2 / h | 1/h
kg + n | kg
n + kg | kg
n * kg | -
n / kg | -
n + n | -
n | -
n * 2 | -
area * m | m³
m * m | m²
m * m * m | m³
m ^ 2 | m²
m ^ 3 | m³
m ^ 0.5 | m^(1/2)
m ^ n | -
sqrt(area) | m
sqrt(m * m) | m
sqrt(m) | m^(1/2)
power(m, 2) | m²
m ^ -1 | 1/m
m ^ 0 | -
km / h | km/h
m / s | m/s
m / s / s | m/s²
m / s ^ 2 | m/s²
m / (s * s) | m/s²
speed * h | km
pace * s | m
acc * s | m/s
24 / pi() * acos(n) | -
2 * turn | -
-turn | rad
2 * pi() * m | m
kg * acc | kg·m/s²
force * m | N·m
energy / s | J/s
power * h | W·h
price * kg | EUR
kg * price | EUR
wage * h | €
euro / kg | EUR/kg
euro per h | EUR/h
sugar * litres | g
euro + price * kg | EUR
share | %
share * kg | kg
kg * share / 100 | -
kg * (1 + share) | kg
kg / frames * frames | kg
frames * 2 | frames
frames / hives | frames/hive
bees / hives | {bees}/hive
celsius - celsius | °C
celsius | °C
mean(celsius) | °C
stdev(celsius) | °C
variance(kg) | kg²
sum(kg) | kg
mean(kg) | kg
median(kg) | kg
min(kg) | kg
max(kg by name) | kg
percentile(kg, 90) | kg
mode(kg) | kg
first(kg) | kg
last(kg order by day) | kg
lookup(kg where name = 'a') | kg
count() | -
count(kg) | -
count_distinct(kg) | -
share(kg) | -
sum(kg) / count() | kg
sum(kg) per sum(frames) | kg/frames
sum(kg where h > 2) | kg
sum(kg by name) / sum(kg) | -
correlation(kg, h) | -
r_squared(kg, h) | -
slope(kg, h) | kg/h
intercept(kg, h) | kg
polynomial(kg, h, 2, 2) | kg/h²
polynomial(comb, day, 3, 3) | cm²/d³
polynomial(comb, day, 3, 0) | cm²
derivative(kg, h) | kg/h
derivative(comb, day) | cm²/d
integral(speed, h) | km
integral(kg, day) | kg·d
difference(kg) | kg
cumulative_sum(kg) | kg
cumulative_mean(kg) | kg
cumulative_count(kg) | -
moving_mean(kg, 3) | kg
moving_sum(kg, 3) | kg
lag(kg) | kg
lead(kg, 2) | kg
kg - lag(kg) | kg
rank(kg) | -
dense_rank(kg) | -
row_number() | -
abs(kg) | kg
round(kg, 1) | kg
round_up(kg) | kg
round_to(kg, 5) | kg
floor(kg) | kg
ceiling(kg) | kg
truncate(kg) | kg
sign(kg) | -
clamp(kg, 0, 10) | kg
mod(kg, 2) | kg
quotient(kg, kg) | -
exp(n) | -
ln(kg) | -
log10(kg) | -
sin(turn) | -
sin(radians(lat)) | -
cos(radians(lat)) | -
tan(n) | -
radians(lat) | rad
degrees(turn) | deg
asin(n) | rad
atan2(m, m) | rad
degrees(atan2(m, m)) | deg
until - day | d
day - until | d
at - start | d
days_between(day, until) | d
months_between(day, until) | mo
years_between(day, until) | a
workdays_between(day, until) | d
elapsed(start, at, 'hour') | h
elapsed(start, at, 'minute') | min
elapsed(start, at, 'week') | wk
elapsed(start, at, 'quarter') | -
day + 7 | -
day + days | -
add_days(day, days) | -
year(day) | -
hour(at) | -
length(name) | -
number(name) | -
if(ok, kg, kg) | kg
if(ok, kg, 0) | kg
if(ok, 0, kg) | kg
if(ok, kg, n) | kg
case when h > 2 then kg else blank end | kg
case when ok then 1 else 2 end | -
kg ?? 0 | kg
coalesce(kg, kg) | kg
blank_if(kg, 0) | kg
if_error(kg, 0) | kg
sum_of(kg, kg) | kg
mean_of(kg, kg) | kg
max_of(kg, 2) | kg
count_of(kg, h) | -
weighted(kg at 50%, h at 50%) | -
let w = kg in w * 2 | kg
let w = kg / h in w * h | kg
kg between 1 and 2 | -
kg in (1, 2) | -
kg > 2 and h > 3 | -
kg is blank | -
name & kg | -
convert(kg, 'g') | g
convert(g, 'kg') | kg
convert(speed, 'm/s') | m/s
convert(celsius, '°F') | °F
convert(comb, 'm²') | m²
convert(kwh, 'J') | J
convert(h, 'min') + min | min
convert(g, 'kg') + kg | kg
convert(n, 'kg', 'g') | kg
convert(until - day, 'wk') | wk
convert(lat, 'rad') | rad
convert(kg * acc, 'N') | N
g / 1000 + kg | kg
kg * 1000 + g | g
h * 60 + min | min
min / 60 + h | h
(until - day) * 24 + h | h
kg + lb | ? unlike-units
kg + g | ? unlike-units
g + kg | ? unlike-units
min + h | ? unlike-units
kg + m | ? unlike-units
m + s | ? unlike-units
kg - h | ? unlike-units
kg < g | ? unlike-units
kg > m | ? unlike-units
kg = h | ? unlike-units
h between min and days | ? unlike-units, unlike-units
euro + dollar | ? unlike-units
euro + price | ? unlike-units
celsius - fahrenheit | ? unlike-units
celsius > kelvin | ? unlike-units
frames + kg | ? unlike-units
frames + pts | ? unlike-units
share + kg | ? unlike-units
lat + turn | ? unlike-units
area + comb | ? unlike-units
speed > pace | ? unlike-units
if(ok, kg, g) | ? unlike-units
if(ok, kg, m) | ? unlike-units
kg ?? g | ? unlike-units
coalesce(kg, m) | ? unlike-units
max_of(kg, g) | ? unlike-units
sum_of(kg, h, g) | ? unlike-units
clamp(kg, g, 10) | ? unlike-units
mod(h, min) | ? unlike-units
sin(lat) | ? unlike-units
cos(kg) | ? unlike-units
sin(2 * lat) | ? unlike-units
radians(turn) | ? unlike-units
day + h | ? unlike-units
day + weeks | ? unlike-units
at + h | ? unlike-units
add_days(day, h) | ? unlike-units
add_months(day, days) | ? unlike-units
sum(kg where g > kg) | ? unlike-units
sum(kg) + sum(g) | ? unlike-units
kg + mean(h) | ? unlike-units
let w = kg in w + h | ? unlike-units
case when kg > h then 1 else 2 end | ? unlike-units
price * kg + kg | ? unlike-units
m / s + speed | ? unlike-units
force + kg * m | ? unlike-units
convert(kg, 'm') | ? no-conversion
convert(n, 'kg') | ? no-conversion
convert(5, 'kg') | ? no-conversion
convert(kg, 'g', 'm') | ? no-conversion
convert(kg * 1000, 'g') | ? no-conversion
convert(ph, 'l') | ? no-conversion
convert(pts, 'kg') | ? no-conversion
convert(kg, name) | ? constant-expected
`

/** Formulas over these columns with the unit that each gives, or what is said of it. */
export const UNIT_FORMULAS: readonly UnitFormula[] = LINES.trim()
  .split('\n')
  .map((line) => {
    const cut = line.lastIndexOf(' | ')
    return { formula: line.slice(0, cut), gives: line.slice(cut + 3) }
  })
