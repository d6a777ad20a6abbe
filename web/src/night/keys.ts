/**
 * Takes out of a text what looks like a stream key, before it is kept anywhere: the server does the same once more
 * (core/night/keys.go says what counts as one).
 */
const stripped = '[key-taken-out]'
const ingest = /\b(?:rtmps?|srt|whip):\/\/[^\s/]+\/[^\s/]+\/\S+|\bsrt:\/\/\S*streamid=\S+/gi
const worded =
  /\b((?:(?:stream|streaming|ingest|access)[ _-]?)?(?:key|token|secret)|streamid)(\s+is\s+|\s*[:=]\s*)(\S+)/gi
const long = /[A-Za-z0-9_-]{16,}/g

export function withoutKeys(text: string, own: (word: string) => boolean = () => false): string {
  return text
    .replace(ingest, (s) => {
      const id = s.toLowerCase().indexOf('streamid=')
      if (id >= 0) return s.slice(0, id + 9) + stripped
      const app = s.indexOf('/', s.indexOf('://') + 3) + 1
      return s.slice(0, s.indexOf('/', app) + 1) + stripped
    })
    .replace(worded, `$1$2${stripped}`)
    .replace(long, (s) =>
      !own(s) && /[A-Za-z]/.test(s) && /\d/.test(s) && !/^[0-9a-f]+$/.test(s) ? stripped : s,
    )
}
