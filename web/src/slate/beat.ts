/** The beat of the slate, in seconds, as its analyser expects it (core/inspect/slate.go; a test holds them together). */
export const every = 1.037
const flash = 0.2
const beep = 0.08
const pitch = 1000
const first = 1

/** Whether the slate is lit, at a time of the sound's clock. */
export const lit = (now: number) => now >= first && (now - first) % every < flash

/** Hands beeps to the sound a few seconds ahead, each at its time; gives what ends it. */
export function scheduleBeeps(sound: AudioContext) {
  let n = 0
  const ahead = () => {
    for (; first + n * every < sound.currentTime + 4; n++) {
      const at = first + n * every
      const tone = sound.createOscillator()
      const loud = sound.createGain()
      tone.frequency.value = pitch
      loud.gain.value = 0.5
      tone.connect(loud).connect(sound.destination)
      tone.start(at)
      tone.stop(at + beep)
    }
  }
  ahead()
  const timer = setInterval(ahead, 1000)
  return () => clearInterval(timer)
}
