/**
 * Workbooks in tables of PostgreSQL, shared by several servers: each workbook is one server's at a time. Start reading at
 * `postgresql-store.ts`.
 * @module
 */
export { AuditTable } from './audit-table.js'
export { StoreFault } from './connection.js'
export { PostgresqlStore } from './postgresql-store.js'
