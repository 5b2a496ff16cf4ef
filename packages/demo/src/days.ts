/** A day that is `days` after an ISO date, as ISO text. The demo needs no other date arithmetic. */
export function dayAfter(isoDate: string, days: number): string {
  return new Date(Date.parse(`${isoDate}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10)
}

/** Day of the week of an ISO date, Sunday 0 to Saturday 6. */
export function dayOfWeek(isoDate: string): number {
  return new Date(`${isoDate}T00:00:00Z`).getUTCDay()
}

/** Months since January of an ISO date, 0 to 11. */
export function monthIndex(isoDate: string): number {
  return Number(isoDate.slice(5, 7)) - 1
}
