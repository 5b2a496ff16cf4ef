import { DuckDBInstance } from '@duckdb/node-api'

const [, , file, n] = process.argv
const c = await (await DuckDBInstance.create(file)).connect()
await c.run(`create table hives (tag varchar primary key, apiary varchar not null, frames integer)`)
await c.run(
  `insert into hives select 'H-' || lpad(cast(i as varchar), 4, '0'), ['Mill Wood','Long Meadow','Quarry'][1 + i % 3], case when i % 50 = 49 then 0 else 6 + i % 7 end from range(2000) r(i)`,
)
await c.run(
  `create table harvests (id bigint primary key, hive varchar not null, day date not null, honey_kg decimal(6,1), moisture double)`,
)
await c.run(
  `insert into harvests select i, 'H-' || lpad(cast(i * 7919 % 2000 as varchar), 4, '0'), date '2020-01-01' + cast(i % 2000 as integer), case when i % 1000 = 7 then null else (i * 37 % 400) / 10.0 end, case when i = 5 then 'nan'::double else 16 + i % 40 / 10.0 end from range(${n}) r(i)`,
)
c.closeSync()
