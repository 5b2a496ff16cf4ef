import { copyFileSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { BookFile } from '@mellow-abacus/files'
import type { Operation, Role } from 'mellow-abacus'
import { OPERATIONS } from '../../../host/tests/helpers/homes.js'
import { type GivenServerOptions, type RunningServer, type ServerParts, startServer, TokenFile } from '../../src/index.js'

/** A folder of workbooks with its tokens, and a server of it. */
export class Served {
  readonly folder: string
  readonly tokens: TokenFile
  #server: RunningServer | null = null

  readonly #parts: ServerParts

  private constructor(parts: ServerParts) {
    this.#parts = parts
    this.folder = mkdtempSync(join(tmpdir(), 'served-'))
    this.tokens = new TokenFile(this.folder)
  }

  /**
   * Serves the workbook `honey`.
   *
   * @param operations - null for a server that has no workbook in its folder
   * @param other - a server whose tokens are taken here too
   */
  static async begin(
    options: Partial<GivenServerOptions> = {},
    operations: readonly Operation[] | null = OPERATIONS,
    parts: ServerParts = {},
    other?: Served,
  ): Promise<Served> {
    const served = new Served(parts)
    if (operations !== null) served.add('honey', operations)
    if (other !== undefined) copyFileSync(other.tokens.path, served.tokens.path)
    else served.token('Olga', 'own', { books: ['*'] })
    await served.start(options)
    return served
  }

  /** Makes a workbook in the folder. */
  add(name: string, operations: readonly Operation[]): void {
    const file = BookFile.create(join(this.folder, `${name}.mellow`), { now: '2026-06-30T08:00:00' })
    if (operations.length > 0) file.apply(operations, { author: 'Olga', at: '2026-06-30T08:00:00' })
    file.close()
  }

  /** Makes a token. */
  token(
    name: string,
    role: Role,
    more: { books?: readonly string[]; groups?: readonly string[]; operator?: boolean } = {},
  ): string {
    return this.tokens.add({ name, role, books: ['honey'], ...more }).token
  }

  async start(options: Partial<GivenServerOptions> = {}): Promise<void> {
    this.#server = await startServer(
      { folder: this.folder, port: 0, log: (process.env.SERVER_LOG as 'error') ?? 'silent', rate: 0, ...options },
      this.#parts,
    )
  }

  get url(): string {
    return this.#server?.url ?? ''
  }

  async stop(): Promise<void> {
    await this.#server?.close()
    this.#server = null
  }

  async close(): Promise<void> {
    await this.stop()
    rmSync(this.folder, { recursive: true, force: true })
  }
}
