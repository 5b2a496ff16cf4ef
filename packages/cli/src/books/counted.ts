/** `3 rows`, `1 row`. */
export const counted = (count: number, noun: string): string => `${count.toLocaleString('en')} ${noun}${count === 1 ? '' : 's'}`
