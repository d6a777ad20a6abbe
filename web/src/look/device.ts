import { api, Failure } from '../api/client'
import type { components } from '../api/schema'
import { words } from '../words'
import { Batches, lumaOfPixels, type Now } from './batch'
import type { Looked } from './clip'
import type { FromFrames, ToFrames } from './frames.worker'

/** A camera, a capture device or a microphone of this computer. */
export type Input = { id: string; label: string; kind: 'videoinput' | 'audioinput' }
/** A device with what of the rig it is, and how it is to be opened. */
export type Row = Input & {
  of: string
  why: string
  twin: boolean
  ask: components['schemas']['InputIs']
}
export type Ask = { width: number; height: number; rate: number }

const w = words.look.devices

declare global {
  interface Window {
    MediaStreamTrackProcessor?: new (of: { track: MediaStreamTrack; maxBufferSize?: number }) => {
      readable: ReadableStream<VideoFrame>
    }
  }
}

/** What went wrong with opening a device, as somebody at the desk would say it. */
export function why(e: unknown): string {
  const name = e instanceof DOMException ? e.name : ''
  const said: Record<string, string> = {
    NotAllowedError: w.refused,
    NotFoundError: w.none,
    NotReadableError: w.taken,
    AbortError: w.taken,
    OverconstrainedError: w.wants,
    SecurityError: w.refused,
  }
  return said[name] ?? (e instanceof Error ? e.message : String(e))
}

/** Whether this page may open devices at all: only here, or over HTTPS. */
export const mayOpen = () => window.isSecureContext && !!navigator.mediaDevices

/**
 * Whether this document may ask for devices: those of Look and of a night may, by the server's policy; one that was opened
 * elsewhere and led here is loaded anew first. Browsers that do not tell are asked.
 */
export const allowed = () =>
  (document as { featurePolicy?: { allowsFeature: (of: string) => boolean } }).featurePolicy?.allowsFeature(
    'camera',
  ) ?? true

/** Remembers, for this tab, which page was loaded anew to be let at devices. */
export const anew = 'eventether-devices'
export const goesOn = () => sessionStorage.getItem(anew) === location.pathname

const stop = (s: MediaStream) => s.getTracks().forEach((t) => t.stop())

/** Asks once for leave, and lists every camera and microphone by its real name. */
export async function inputs(): Promise<{ all: Input[]; problems: string[] }> {
  const problems: string[] = []
  for (const kind of ['video', 'audio'] as const)
    try {
      stop(await navigator.mediaDevices.getUserMedia({ [kind]: true }))
    } catch (e) {
      problems.push(`${w.kinds[kind]}: ${why(e)}`)
    }
  const all = (await navigator.mediaDevices.enumerateDevices())
    .filter(
      (d) => d.kind !== 'audiooutput' && d.deviceId && !['default', 'communications'].includes(d.deviceId),
    )
    .map((d) => ({ id: d.deviceId, label: d.label, kind: d.kind as Input['kind'] }))
  return { all, problems }
}

const shape = (a: { width?: number; height?: number; frameRate?: number }) =>
  `${a.width} × ${a.height}, ${Math.round((a.frameRate ?? 0) * 100) / 100}`

type Facts = Parameters<typeof api.endLook>[1]

/** A device that is open and looked at, until it is ended. */
export class Device {
  private facts: Facts = {}
  private stopped: Promise<void> | undefined
  private readonly onHidden = () => this.hide(document.hidden)
  private finish: () => Promise<void> = () => Promise.resolve()
  private hide: (hidden: boolean) => void = () => undefined

  private constructor(
    readonly look: string,
    readonly input: Input,
    readonly stream: MediaStream,
    private readonly told: (now: Now) => void,
    private readonly failed: (why: string) => void,
  ) {}

  /** Opens a device as the plan wants it, and begins a look at it as that of the rig. */
  static async open(
    rig: string,
    of: string,
    input: Input,
    ask: Ask | undefined,
    told: (now: Now) => void,
    failed: (why: string) => void,
    clock?: AudioContext,
  ): Promise<Device> {
    const began = performance.timeOrigin + performance.now()
    const exact = { deviceId: { exact: input.id } }
    const stream = await navigator.mediaDevices
      .getUserMedia(
        input.kind === 'videoinput'
          ? {
              video: {
                ...exact,
                width: { ideal: ask?.width },
                height: { ideal: ask?.height },
                frameRate: { ideal: ask?.rate },
              },
            }
          : {
              audio: {
                ...exact,
                echoCancellation: false,
                noiseSuppression: false,
                autoGainControl: false,
                channelCount: { ideal: 2 },
              },
            },
      )
      .catch((e: unknown) => {
        throw new Failure(0, `${input.label}: ${why(e)}`)
      })
    try {
      const { id } = await api.openLook(rig, { of, facts: { label: input.label.slice(0, 200) } })
      const d = new Device(id, input, stream, told, failed)
      const [track] = stream.getTracks()
      const is = track!.getSettings()
      if (input.kind === 'videoinput') {
        if (ask?.width) d.facts.asked = shape({ ...ask, frameRate: ask.rate })
        d.facts.given = shape(is)
        d.frames(track!, began)
      } else {
        d.facts.processing = (['echoCancellation', 'noiseSuppression', 'autoGainControl'] as const).filter(
          (p) => is[p] === true,
        )
        await d.blocks(is, clock)
      }
      track!.addEventListener('ended', () => {
        d.facts.unplugged = true
        failed(w.unplugged)
      })
      document.addEventListener('visibilitychange', d.onHidden)
      return d
    } catch (e) {
      stop(stream)
      throw e
    }
  }

  /** How its picture stands, as somebody says who sees it. */
  stands(how: Facts['stands']) {
    this.facts.stands = how
  }

  private get address() {
    return `/api/looks/${this.look}`
  }

  private frames(track: MediaStreamTrack, began: number) {
    if (!window.MediaStreamTrackProcessor) {
      this.facts.scaled = true
      return this.drawn(began)
    }
    const worker = new Worker(new URL('./frames.worker.ts', import.meta.url), { type: 'module' })
    const { readable } = new window.MediaStreamTrackProcessor({ track, maxBufferSize: 8 })
    const ended = new Promise<void>((done) => {
      worker.onmessage = (e: MessageEvent<FromFrames>) => {
        const m = e.data
        if ('now' in m) this.told(m.now)
        else if ('failed' in m) this.failed(m.failed || w.away)
        else if ('first' in m) this.facts.firstMs = Math.min(600_000, Math.max(0, m.first - began))
        else {
          this.facts.skipped = (this.facts.skipped ?? 0) + m.skipped
          this.facts.scaled = m.scaled
          done()
        }
      }
    })
    worker.postMessage({ address: this.address, frames: readable } satisfies ToFrames, [readable])
    this.hide = (hidden) => {
      if (hidden) this.facts.hidden = true
      worker.postMessage({ hidden })
    }
    this.finish = async () => {
      const { stats } = track as { stats?: { discardedFrames: number } }
      this.facts.skipped = (this.facts.skipped ?? 0) + (stats?.discardedFrames ?? 0)
      worker.postMessage('end')
      track.stop()
      await ended
      worker.terminate()
    }
  }

  /** Where a browser hands on no frames: what is drawn of them, scaled. */
  private drawn(began: number) {
    const video = document.createElement('video')
    video.muted = true
    video.srcObject = this.stream
    const to = new Batches(this.address, this.told, (f) => this.failed(f || w.away))
    const canvas = new OffscreenCanvas(128, 72)
    const on = canvas.getContext('2d', { willReadFrequently: true })!
    let open = true
    let base: number | undefined
    const next = (_: number, about: VideoFrameCallbackMetadata) => {
      if (!open) return
      if (base === undefined) {
        base = about.mediaTime
        this.facts.firstMs = performance.timeOrigin + performance.now() - began
      }
      on.drawImage(video, 0, 0, 128, 72)
      const luma = lumaOfPixels(on.getImageData(0, 0, 128, 72).data)
      to.frame(Math.max(0, about.mediaTime - base), video.videoWidth, video.videoHeight, luma)
      video.requestVideoFrameCallback(next)
    }
    video.requestVideoFrameCallback(next)
    void video.play().catch(() => undefined)
    this.hide = (hidden) => {
      if (hidden) this.facts.hidden = true
      to.gap(0)
    }
    this.finish = async () => {
      open = false
      await to.end()
    }
  }

  /** clock is shared by microphones that are held against each other. */
  private async blocks({ sampleRate, channelCount }: MediaTrackSettings, clock?: AudioContext) {
    const context = clock ?? new AudioContext(sampleRate ? { sampleRate } : {})
    await context.audioWorklet.addModule('/blocks.js')
    const to = new Batches(this.address, this.told, (f) => this.failed(f || w.away))
    const node = new AudioWorkletNode(context, 'blocks', {
      numberOfOutputs: 0,
      channelCount: Math.min(2, channelCount ?? 2), // whatever it begins with, so many to its end
      channelCountMode: 'explicit',
    })
    node.port.onmessage = (e: MessageEvent<{ at: number; channels: Float32Array[] }>) =>
      to.sound(e.data.at, context.sampleRate, e.data.channels)
    context.createMediaStreamSource(this.stream).connect(node)
    await context.resume()
    this.finish = async () => {
      node.disconnect()
      await to.end()
      if (!clock) await context.close()
    }
  }

  /** Lets go of the device. */
  close(): Promise<void> {
    document.removeEventListener('visibilitychange', this.onHidden)
    this.stopped ??= this.finish().finally(() => stop(this.stream))
    return this.stopped
  }

  /** Ends the look: what it came to. */
  async end(): Promise<Looked> {
    await this.close()
    return api.endLook(this.look, this.facts)
  }
}
