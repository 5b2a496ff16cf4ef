/** Formats that can be written, named as on the command line. */
export const WRITABLE_FORMATS = ['csv', 'tsv', 'json', 'ndjson'] as const

/** A format that can be written. */
export type WritableFormat = (typeof WRITABLE_FORMATS)[number]

/** Where a writer's UTF-8 bytes go. They are lent: until the call, or its promise, is done. */
export type ByteSink = (bytes: Uint8Array) => void | Promise<void>

/** Rows put out at a time. */
export const BATCH_ROWS = 4096
