import { Batches, lumaOfPixels, type Now, sampled } from './batch'

/**
 * Reads the frames of a camera as they are delivered: of each its time and a few samples, and now and then all of its luma,
 * unscaled. In a worker, so that drawing the page holds up no frame.
 */
export type ToFrames = { address: string; frames: ReadableStream<VideoFrame> } | { hidden: boolean } | 'end'
export type FromFrames =
  { now: Now } | { failed: string } | { first: number } | { ended: true; skipped: number; scaled: boolean }

const tell = (m: FromFrames) => self.postMessage(m)

/** How often a frame is handed on whole, in seconds: seldom where it is large. */
const closely = (width: number, height: number) => (width * height > 2_200_000 ? 0.8 : 0.2)

let batches: Batches | undefined
let reader: ReadableStreamDefaultReader<VideoFrame> | undefined
let hidden = false
let room = new Uint8Array(0)

/** Forms of frames whose luma can be read as it is, or reckoned: those of eight bits. */
const eightBits = /^(I4\d\dA?|NV\d\d|RGBA|RGBX|BGRA|BGRX)$/

/** The luma of a frame without its padding; none where the browser hands on none. */
async function lumaOf(frame: VideoFrame): Promise<Uint8Array | undefined> {
  const width = frame.visibleRect?.width ?? frame.codedWidth
  const height = frame.visibleRect?.height ?? frame.codedHeight
  if (!frame.format || !eightBits.test(frame.format)) return undefined
  const size = frame.allocationSize()
  if (room.length < size) room = new Uint8Array(size)
  const [plane] = await frame.copyTo(room)
  const luma = new Uint8Array(width * height)
  const { offset, stride } = plane!
  if (/^(I4|NV)/.test(frame.format)) {
    for (let y = 0; y < height; y++)
      luma.set(room.subarray(offset + y * stride, offset + y * stride + width), y * width)
    return luma
  }
  const turned = frame.format.startsWith('BGR')
  for (let y = 0; y < height; y++)
    luma.set(
      lumaOfPixels(room.subarray(offset + y * stride, offset + y * stride + 4 * width), turned),
      y * width,
    )
  return luma
}

/** Samples spread evenly over a picture. */
function few(luma: Uint8Array, width: number, height: number): Uint8Array {
  const out = new Uint8Array(sampled.width * sampled.height)
  for (let y = 0; y < sampled.height; y++) {
    const row = Math.floor(((y + 0.5) * height) / sampled.height) * width
    for (let x = 0; x < sampled.width; x++)
      out[y * sampled.width + x] = luma[row + Math.floor(((x + 0.5) * width) / sampled.width)]!
  }
  return out
}

let canvas: OffscreenCanvasRenderingContext2D | undefined

/** The few samples of a frame the browser hands on in no form that can be read: drawn, and so scaled. */
function drawn(frame: VideoFrame): Uint8Array {
  const { width, height } = sampled
  canvas ??= new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!
  canvas.drawImage(frame, 0, 0, width, height)
  return lumaOfPixels(canvas.getImageData(0, 0, width, height).data)
}

async function read(frames: ReadableStream<VideoFrame>, to: Batches) {
  reader = frames.getReader()
  let last = -Infinity
  let base: number | undefined
  let scaled = false
  for (;;) {
    const { done, value: frame } = await reader.read()
    if (done) break
    const width = frame.visibleRect?.width ?? frame.codedWidth
    const height = frame.visibleRect?.height ?? frame.codedHeight
    if (base === undefined) {
      base = frame.timestamp
      tell({ first: performance.timeOrigin + performance.now() })
    }
    const at = Math.max(0, (frame.timestamp - base) / 1e6)
    try {
      const luma = hidden ? undefined : await lumaOf(frame)
      if (luma) {
        to.frame(at, width, height, few(luma, width, height))
        if (at - last >= closely(width, height)) {
          to.closely(at, width, height, luma)
          last = at
        }
      } else if (hidden) to.gap(at)
      else {
        scaled = true
        to.frame(at, width, height, drawn(frame))
      }
    } catch {
      to.gap(at)
    }
    frame.close()
    if (batches !== to) break
  }
  await to.end()
  tell({ ended: true, skipped: to.skipped, scaled })
}

self.onmessage = (e: MessageEvent<ToFrames>) => {
  const m = e.data
  if (m === 'end') {
    batches = undefined
    void reader?.cancel()
  } else if ('hidden' in m) hidden = m.hidden
  else {
    batches = new Batches(
      m.address,
      (now) => tell({ now }),
      (failed) => tell({ failed }),
    )
    void read(m.frames, batches)
  }
}
