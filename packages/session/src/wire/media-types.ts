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
