import { Frame, type FrameSource } from '../../formula/index.js'

/** Frames for evaluations that run inside each other: each takes one for as long as it runs. */
export class Frames {
  readonly #free: Frame[] = []

  /** Runs something with a frame of its own that reads from a source. */
  with<Result>(source: FrameSource, run: (frame: Frame) => Result): Result {
    const frame = this.#free.pop() ?? new Frame(source)
    frame.open(source)
    try {
      return run(frame)
    } finally {
      frame.close()
      this.#free.push(frame)
    }
  }
}
