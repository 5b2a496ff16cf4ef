import { userName } from '@mellow-abacus/files'
import { type ServerOptions, ServerOptionsFault } from '../options.js'
import type { Caller } from './caller.js'
import { HandedTokens } from './handed-tokens.js'
import { Issuer } from './issuer.js'
import { TokenFile } from './token-file.js'

const HERE: ReadonlySet<string> = new Set(['127.0.0.1', '::1', 'localhost'])

/** What a door finds out by who asks. */
interface Known {
  readonly tokens: TokenFile | null
  readonly issuer: Issuer | null
  readonly isOpen: boolean
}

/**
 * Finds out who asks: by a token that was handed out, by one of the folder, by one of the organisation, or, on this machine alone,
 * without any.
 */
export class Door {
  /** Tokens that are good as long as the server runs. */
  readonly handed: HandedTokens = new HandedTokens()
  readonly #tokens: TokenFile | null
  readonly #issuer: Issuer | null
  #isOpen: boolean

  private constructor({ tokens, issuer, isOpen }: Known) {
    this.#tokens = tokens
    this.#issuer = issuer
    this.#isOpen = isOpen
  }

  /** The door of a folder of workbooks. @throws ServerOptionsFault where others could come in without being asked who they are */
  static ofFolder({ folder, host, issuer: url, audience, ...claims }: ServerOptions): Door {
    const tokens = new TokenFile(folder)
    if ((url === undefined) !== (audience === undefined))
      throw new ServerOptionsFault('an issuer needs an audience, and an audience an issuer.')
    const issuer = url === undefined || audience === undefined ? null : new Issuer(url, audience, claims)
    const isOpen = issuer === null && !tokens.isThere
    if (isOpen && !HERE.has(host))
      throw new ServerOptionsFault(
        `on ${host} anyone could come in: make a token first (mellow token ${folder} add …), or name an issuer.`,
      )
    return new Door({ tokens, issuer, isOpen })
  }

  /** A door through which only those come who were handed a token. */
  static forInvited(): Door {
    return new Door({ tokens: null, issuer: null, isOpen: false })
  }

  /** True where everyone on this machine may do everything: there is no issuer, and there never was a token. */
  get isOpen(): boolean {
    // Closed by the first token, it stays so, also when the last one is withdrawn.
    if (this.#isOpen && this.#tokens?.isThere === true) this.#isOpen = false
    return this.#isOpen
  }

  /**
   * Who asks.
   *
   * @param authorization - the header (RFC 6750)
   * @param name - the name by which the server was asked, without port
   * @returns undefined for one who shows nothing that is good
   */
  async callerOf(authorization: string | undefined, name: string): Promise<Caller | undefined> {
    const token = tokenIn(authorization)
    if (token === undefined) {
      // Another name is that of a page from elsewhere, which had it resolved to this machine.
      return this.isOpen && authorization === undefined && HERE.has(name.replace(/^\[|\]$/g, '')) ? LOCAL : undefined
    }
    return this.#known(token) ?? (await this.#issuer?.callerOf(token))
  }

  /** True while what someone showed, who follows for long, is still good. */
  async isStillGood(authorization: string | undefined, caller: Caller): Promise<boolean> {
    if (caller.until <= Date.now()) return false
    if (authorization === undefined) return this.isOpen
    const token = tokenIn(authorization)
    // A token of the organisation is good until it expires: nobody takes it back.
    return token !== undefined && (caller.id.startsWith('sub:') || this.#known(token) !== undefined)
  }

  /** Who shows a token that is kept here. */
  #known(token: string): Caller | undefined {
    return this.handed.callerOf(token) ?? this.#tokens?.callerOf(token)
  }
}

function tokenIn(authorization: string | undefined): string | undefined {
  return /^Bearer +([\w.~+/-]+=*)$/i.exec(authorization ?? '')?.[1]
}

/** The one who sits at this machine. */
const LOCAL: Caller = {
  id: 'local',
  author: userName(),
  roles: new Map([['*', 'own']]),
  groups: [],
  isOperator: true,
  until: Number.POSITIVE_INFINITY,
}
