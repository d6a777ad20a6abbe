/** What a page samples of a device, as records (docs/api/README.md), sent a batch at a time: the next once the last was taken. */
export type Now = {
  seconds: number
  picture?: { hz: number; change: number; dark: boolean; frames: number }
  levelDb?: number
  full?: boolean
}

/** How often a batch is sent, in milliseconds, and how much may wait for it, in bytes. */
const every = 250
const mostWaiting = 32 << 20

/** Samples either way of the small picture of every frame. */
export const sampled = { width: 128, height: 72 }

/** Luma of pixels of four bytes, red first or blue: BT.709, limited range, as cameras send it. */
export function lumaOfPixels(pixels: Uint8Array | Uint8ClampedArray, blueFirst = false): Uint8Array {
  const out = new Uint8Array(pixels.length / 4)
  const [r, b] = blueFirst ? [2, 0] : [0, 2]
  for (let i = 0; i < out.length; i++)
    out[i] =
      16.5 +
      (219 / 255) * (0.2126 * pixels[4 * i + r]! + 0.7152 * pixels[4 * i + 1]! + 0.0722 * pixels[4 * i + b]!)
  return out
}

export class Batches {
  private waiting: Uint8Array<ArrayBuffer>[] = []
  private bytes = 0
  private sending: Promise<void> | undefined
  private last = 0
  private over = false
  /** Frames that were dropped here because the server did not keep up. */
  skipped = 0

  constructor(
    private readonly address: string,
    private readonly told: (now: Now) => void,
    private readonly failed: (why: string) => void,
  ) {}

  /** Whether so much more can wait. */
  private room(bytes: number) {
    return this.bytes + bytes <= mostWaiting
  }

  private put(kind: string, at: number, head: number, fill: (view: DataView, from: number) => void) {
    const record = new Uint8Array(5 + 8 + head)
    const view = new DataView(record.buffer)
    view.setUint8(0, kind.charCodeAt(0))
    view.setUint32(1, 8 + head, true)
    view.setFloat64(5, at, true)
    fill(view, 13)
    this.waiting.push(record)
    this.bytes += record.length
    if (performance.now() - this.last >= every) void this.send()
  }

  private picture(kind: string, at: number, width: number, height: number, luma: Uint8Array) {
    this.put(kind, at, 4 + luma.length, (view, from) => {
      view.setUint16(from, width, true)
      view.setUint16(from + 2, height, true)
      new Uint8Array(view.buffer).set(luma, from + 4)
    })
  }

  frame(at: number, width: number, height: number, samples: Uint8Array) {
    if (!this.room(samples.length)) {
      this.skipped++
      if (!this.over) this.gap(at)
      this.over = true
      return
    }
    this.over = false
    this.picture('P', at, width, height, samples)
  }

  /** All of a frame, to be looked at line by line; left out where there is no room. */
  closely(at: number, width: number, height: number, luma: Uint8Array) {
    if (this.room(2 * luma.length)) this.picture('F', at, width, height, luma)
  }

  sound(at: number, rate: number, channels: Float32Array[]) {
    const n = channels[0]!.length
    if (!this.room(4 * n * channels.length)) return
    this.put('A', at, 5 + 4 * n * channels.length, (view, from) => {
      view.setUint32(from, rate, true)
      view.setUint8(from + 4, channels.length)
      let to = from + 5
      for (const c of channels) for (const v of c) view.setFloat32((to += 4) - 4, v, true)
    })
  }

  /** What came before the next frame was not looked at. */
  gap(at: number) {
    this.put('G', at, 0, () => undefined)
  }

  /** Sends what waits; the promise is settled when nothing is on its way. */
  send(): Promise<void> {
    this.sending ??= this.one().finally(() => (this.sending = undefined))
    return this.sending
  }

  async end(): Promise<void> {
    await this.send()
    await this.send()
  }

  private async one() {
    if (this.waiting.length === 0) return
    this.last = performance.now()
    const body = new Blob(this.waiting)
    this.waiting = []
    this.bytes = 0
    try {
      const answer = await fetch(this.address, {
        method: 'PUT',
        headers: { 'Content-Type': 'application/octet-stream' },
        body,
      })
      const said = (await answer.json()) as Now & { detail?: string }
      if (answer.ok) this.told(said)
      else this.failed(said.detail ?? String(answer.status))
    } catch {
      this.failed('')
    }
  }
}
