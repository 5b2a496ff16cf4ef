import type { StorageKind } from '../../values/index.js'
import { BLOCK_ROWS, type Vector } from '../vectors.js'
import { assembleModule } from './assembler.js'
import { BLOCK_CODE, type BlockLoops, STATUS_OFFSET, VECTOR_BYTES } from './block-code.js'

/** What this floor needs of WebAssembly, which the language's own library does not declare. */
interface WebAssemblyApi {
  readonly Memory: new (size: { initial: number; maximum: number }) => { readonly buffer: ArrayBuffer }
  readonly Module: new (bytes: Uint8Array<ArrayBuffer>) => object
  readonly Instance: new (module: object, imports: object) => { readonly exports: object }
}

const PAGE = 65_536
/** Vectors that can be lent at once; a formula seldom holds more than ten. */
const VECTOR_COUNT = 64
const PAGES = Math.ceil((VECTOR_COUNT * VECTOR_BYTES) / PAGE)

/** Room for one vector in the memory of the block loops, seen as each kind. */
interface Place {
  readonly number: Vector
  readonly boolean: Vector
  readonly bytes: Uint8Array
}

/**
 * The memory that the block loops work on, lent out as vectors of whole blocks. There is one for all workbooks, made at the
 * first need; evaluation runs to its end in one go, so no one else is at work meanwhile. Where WebAssembly is missing or
 * forbidden (a content security policy may do so) there are no loops, and the kernels in TypeScript do the same work.
 */
class Scratch {
  #buffer: ArrayBuffer | null = null
  #loops: BlockLoops | null | undefined
  readonly #free: Place[] = []
  readonly #places: Map<Vector | Uint8Array, Place> = new Map()

  /** The loops over whole blocks; null where they cannot be had. */
  get loops(): BlockLoops | null {
    if (this.#loops === undefined) this.#loops = this.#start()
    return this.#loops
  }

  #start(): BlockLoops | null {
    const { WebAssembly: api } = globalThis as { WebAssembly?: WebAssemblyApi }
    if (api === undefined) return null
    try {
      const memory = new api.Memory({ initial: PAGES, maximum: PAGES })
      const module = new api.Module(assembleModule(BLOCK_CODE, PAGES))
      const { exports } = new api.Instance(module, { blocks: { memory } })
      this.#layOut(memory.buffer)
      return exports as BlockLoops
    } catch {
      // Forbidden by a policy, or no vectors of 128 bits: the slower kernels give the same results.
      return null
    }
  }

  #layOut(buffer: ArrayBuffer): void {
    this.#buffer = buffer
    for (let address = 0; address + VECTOR_BYTES <= buffer.byteLength; address += VECTOR_BYTES) {
      const status = new Uint8Array(buffer, address + STATUS_OFFSET, BLOCK_ROWS)
      const bytes = new Uint8Array(buffer, address, BLOCK_ROWS)
      const values = new Float64Array(buffer, address, BLOCK_ROWS)
      const place: Place = {
        number: { kind: 'number', values, status, clean: false },
        boolean: { kind: 'boolean', values: bytes, status, clean: false },
        bytes,
      }
      this.#free.push(place)
      for (const seen of Object.values(place)) this.#places.set(seen, place)
    }
  }

  /** Lends a vector of BLOCK_ROWS rows whose contents are left over; null when there is none, as for texts. */
  lend(kind: StorageKind): Vector | null {
    if (kind === 'text' || this.loops === null) return null
    return this.#free.pop()?.[kind] ?? null
  }

  /** Lends a byte a row; null when there is none. */
  lendBytes(): Uint8Array | null {
    return this.loops === null ? null : (this.#free.pop()?.bytes ?? null)
  }

  /** Takes back what was lent; false for what is none of its own. */
  giveBack(lent: Vector | Uint8Array): boolean {
    const place = this.#places.get(lent)
    if (place === undefined) return false
    this.#free.push(place)
    return true
  }

  /** The loops, when all of these arrays lie in their memory. */
  loopsFor(...arrays: readonly Vector['values'][]): BlockLoops | null {
    for (const array of arrays) if (Array.isArray(array) || (array as Uint8Array).buffer !== this.#buffer) return null
    return this.loops
  }
}

/** The memory of the block loops. */
export const scratch: Scratch = new Scratch()
