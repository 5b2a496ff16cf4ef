import type { ExportFormat } from '../book-session.js'

/** The media types of open formats. */
export const MEDIA_TYPES: Readonly<Record<ExportFormat, string>> = {
  csv: 'text/csv',
  ndjson: 'application/x-ndjson',
  json: 'application/json',
  arrow: 'application/vnd.apache.arrow.stream',
  parquet: 'application/vnd.apache.parquet',
  html: 'text/html',
  svg: 'image/svg+xml',
  png: 'image/png',
}

/** The media type of workbook files, which are SQLite databases. */
export const BOOK_TYPE = 'application/vnd.sqlite3'
