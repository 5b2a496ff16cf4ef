import type { FaultCode } from '../../values/index.js'

/**
 * A cell as operations and queries carry it: a number, text, boolean, null for blank, ISO 8601 text for dates and
 * date-times, the kept text of a misfit, or the error that a detached column was left with.
 */
export type CellValue = number | string | boolean | null | { readonly misfit: string } | { readonly error: FaultCode }
