/**
 * Takes out of a text what looks like a stream key, before it is kept anywhere: the server does the same once more
 * (core/night/keys.go says what counts as one).
 */
const stripped = '[key-taken-out]'
const ingest = /\b(?:rtmps?|srt|whip):\/\/[^\s/]+\/[^\s/]+\/\S+|\bsrt:\/\/\S*streamid=\S+/gi
const worded =
  /\b((?:(?:stream|streaming|ingest|access)[ _-]?)?(?:key|token|secret)|streamid)(\s+is\s+|\s*[:=]\s*)(\S+)/gi
const long = /[A-Za-z0-9_-]{16,}/g

export function cutKeys(text: string, own: (word: string) => boolean = () => false) {
  const cut: string[] = []
  const out = (word: string) => {
    if (word !== stripped) cut.push(word)
    return stripped
  }
  const clean = text
    .replace(ingest, (s) => {
      const id = s.toLowerCase().indexOf('streamid=')
      if (id >= 0) return s.slice(0, id + 9) + out(s.slice(id + 9))
      const app = s.indexOf('/', s.indexOf('://') + 3) + 1
      const at = s.indexOf('/', app) + 1
      return s.slice(0, at) + out(s.slice(at))
    })
    .replace(worded, (_, name: string, is: string, word: string) => name + is + out(word))
    .replace(long, (s) =>
      !own(s) && /[A-Za-z]/.test(s) && /\d/.test(s) && !/^[0-9a-f]+$/.test(s) ? out(s) : s,
    )
  return { clean, cut }
}

export const withoutKeys = (text: string, own?: (word: string) => boolean) => cutKeys(text, own).clean
