import { createRemoteJWKSet, errors, type JWTPayload, jwtVerify } from 'jose'
import { ROLES, type Role } from 'mellow-abacus'
import * as v from 'valibot'
import type { ServerOptions } from '../options.js'
import type { Caller } from './caller.js'

/** Signatures with a key that only the issuer has; never a shared secret, and never none. */
const ALGORITHMS = ['RS256', 'RS384', 'RS512', 'PS256', 'PS384', 'PS512', 'ES256', 'ES384', 'ES512', 'EdDSA']
/** Seconds that clocks may differ. */
const TOLERANCE = 5

const Discovery = v.looseObject({ issuer: v.string(), jwks_uri: v.pipe(v.string(), v.url()) })

/** Verifies tokens of the organisation: JWT (RFC 7519) signed with a key of its issuer (RFC 7517). */
export class Issuer {
  readonly #issuer: string
  readonly #audience: string
  readonly #claims: Pick<ServerOptions, 'rolesClaim' | 'groupsClaim' | 'nameClaim'>
  #keys: ReturnType<typeof createRemoteJWKSet> | null = null

  constructor(issuer: string, audience: string, claims: Pick<ServerOptions, 'rolesClaim' | 'groupsClaim' | 'nameClaim'>) {
    this.#issuer = issuer
    this.#audience = audience
    this.#claims = claims
  }

  /**
   * Who shows a token; undefined for one that is not good.
   *
   * @throws where the issuer cannot be asked for its keys
   */
  async callerOf(token: string): Promise<Caller | undefined> {
    const keys = await this.#keysOfIssuer()
    try {
      const { payload } = await jwtVerify(token, keys, {
        issuer: this.#issuer,
        audience: this.#audience,
        algorithms: ALGORITHMS,
        clockTolerance: TOLERANCE,
        requiredClaims: ['exp', 'sub'],
      })
      return this.#callerOf(payload)
    } catch (error) {
      // A token of whatever kind that is not good is no fault of the server; keys that cannot be had are.
      if (error instanceof errors.JOSEError && !(error instanceof errors.JWKSTimeout)) return undefined
      throw error
    }
  }

  async #keysOfIssuer(): Promise<ReturnType<typeof createRemoteJWKSet>> {
    if (this.#keys !== null) return this.#keys
    const answer = await fetch(`${this.#issuer.replace(/\/$/, '')}/.well-known/openid-configuration`)
    const { jwks_uri: uri, issuer } = v.parse(Discovery, await answer.json())
    if (issuer !== this.#issuer) throw new Error('the issuer calls itself something else than it was named')
    this.#keys = createRemoteJWKSet(new URL(uri))
    return this.#keys
  }

  #callerOf(payload: JWTPayload): Caller {
    const { rolesClaim, groupsClaim, nameClaim } = this.#claims
    const roles = textsOf(payload[rolesClaim]).flatMap((text): [string, Role][] => {
      const [book, role] = text.split(':')
      const known = ROLES.find((one) => one === role)
      return book === undefined || known === undefined ? [] : [[book, known]]
    })
    const name = payload[nameClaim]
    return {
      id: `sub:${payload.sub}`,
      author: typeof name === 'string' && name !== '' ? name : String(payload.sub),
      roles: new Map(roles),
      groups: textsOf(payload[groupsClaim]),
      isOperator: false,
      until: Number(payload.exp) * 1_000,
    }
  }
}

function textsOf(claim: unknown): string[] {
  return Array.isArray(claim) ? claim.filter((one) => typeof one === 'string') : []
}
