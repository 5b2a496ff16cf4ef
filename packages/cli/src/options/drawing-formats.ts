import type { ChartFormat } from '@mellow-abacus/charts'

/** Formats of drawings, by the endings of files. */
export const DRAWING_FORMATS: readonly ChartFormat[] = ['svg', 'png', 'html', 'json']
