import { Counter, collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client'

/** What can be counted at the time of asking. */
export interface Counted {
  readonly openBooks: () => number
  readonly feeds: () => number
}

/** Figures of the server in the text format of Prometheus. No workbook, table or column is named in them. */
export class Metrics {
  readonly #registry = new Registry()
  readonly #requests: Counter
  readonly #seconds: Histogram

  constructor({ openBooks, feeds }: Counted) {
    const registers = [this.#registry]
    collectDefaultMetrics({ register: this.#registry })
    const labelNames = ['method', 'route', 'status']
    this.#requests = new Counter({ name: 'mellow_requests_total', help: 'Requests answered.', labelNames, registers })
    this.#seconds = new Histogram({
      name: 'mellow_request_seconds',
      help: 'Seconds until a request was answered.',
      labelNames: ['method', 'route'],
      buckets: [0.001, 0.005, 0.01, 0.05, 0.1, 0.5, 1, 5, 30],
      registers,
    })
    const gauge = (name: string, help: string, read: () => number): Gauge =>
      new Gauge({
        name,
        help,
        registers,
        collect() {
          this.set(read())
        },
      })
    gauge('mellow_open_books', 'Workbooks that are open.', openBooks)
    gauge('mellow_feeds', 'Live feeds that are followed.', feeds)
  }

  /** Notes a request that was answered; `route` is the form of its address. */
  note(method: string, route: string, status: number, seconds: number): void {
    this.#requests.inc({ method, route, status })
    this.#seconds.observe({ method, route }, seconds)
  }

  /** All figures as text. */
  text(): Promise<string> {
    return this.#registry.metrics()
  }

  get contentType(): string {
    return this.#registry.contentType
  }
}
