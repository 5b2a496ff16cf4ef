/** Formats that can be written, named as on the command line. */
export const WRITABLE_FORMATS = ['csv', 'tsv', 'json', 'ndjson'] as const

/** A format that can be written. */
export type WritableFormat = (typeof WRITABLE_FORMATS)[number]

/** Where a writer's text goes; a promise is waited for. */
export type TextSink = (text: string) => void | Promise<void>
