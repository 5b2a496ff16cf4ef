/** What a server has answered. */
export interface Answer {
  readonly status: number
  readonly headers: Headers
  readonly text: string
  /** The body, where it is JSON. */
  // biome-ignore lint/suspicious/noExplicitAny: a test looks for what there should be
  readonly json: any
}

/** What is asked, besides the address. */
export interface Question {
  readonly method?: string
  readonly body?: unknown
  /** The media type of a body that is text as it stands. */
  readonly type?: string
  readonly headers?: Readonly<Record<string, string>>
}

/** Asks as one who shows a token. */
export type Ask = (path: string, question?: Question) => Promise<Answer>

/** Someone who asks the workbook `honey`, or with a path from the root anything. */
export function asker(url: () => string, token?: string): Ask {
  return async (path, { method, body, type = 'application/json', headers = {} } = {}) => {
    const response = await fetch(path.startsWith('/') ? url() + path : `${url()}/books/honey${path === '' ? '' : `/${path}`}`, {
      method: method ?? (body === undefined ? 'GET' : 'POST'),
      headers: {
        ...(token !== undefined && { authorization: `Bearer ${token}` }),
        ...(body !== undefined && { 'content-type': type }),
        ...headers,
      },
      ...(body !== undefined && { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    })
    const text = await response.text()
    const isJson = /application\/(problem\+)?json/.test(response.headers.get('content-type') ?? '')
    return { status: response.status, headers: response.headers, text, json: isJson ? JSON.parse(text) : undefined }
  }
}
