import rules from './keyRules.json'

/**
 * Takes out of a text what looks like a stream key, before it is kept anywhere. The server does the same once more: these are the steps
 * of core/night/keys.go, which says what counts as a key, by the patterns, words and characters made from there; both are held to one
 * corpus, and to each other on random texts.
 */
const stripped = '[key-taken-out]'

const once = (name: keyof typeof rules.patterns) => {
  const { source, flags } = rules.patterns[name]
  return new RegExp(source, flags)
}
const every = (name: keyof typeof rules.patterns) => new RegExp(once(name), once(name).flags + 'g')

const address = every('address')
const secretIn = every('secretIn')
const nameIs = every('nameIs')
const flagged = every('flagged')
const bearer = every('bearer')
const jwt = every('jwt')
const lines2 = every('lines2')
const groups = every('groups')
const long = every('long')
const long6 = once('long6')
const before = once('before')
const word = once('word')
const number = once('number')
const hexOnly = once('hexOnly')
const dated = once('dated')
const simple = once('simple')
const stop = new Set(rules.stop)

const size = (s: string) => new TextEncoder().encode(s).length
const hasDigit = (s: string) => /[0-9]/.test(s)
const hasLetter = (s: string) => /\p{L}/u.test(s)
const lettersOnly = (s: string) => !/[^\p{L}]/u.test(s)
const lower = (s: string) => !/\p{Lu}/u.test(s)
const mixed = (s: string) => (hasDigit(s) && hasLetter(s)) || random(s) > 0

/** A character as ASCII has it; nothing for one that cannot be seen. */
function plainRune(c: string): string {
  const n = c.codePointAt(0)!
  if (n < 0x80) return c
  if (n >= 0xd800 && n <= 0xdfff) return '?' // half a character
  const found = rules.plain.find(([from, to]) => n >= from! && n <= to!)
  if (!found) return c
  const [from, , becomes] = found as [number, number, number]
  if (becomes < 0) return ''
  return String.fromCharCode(becomes === 0 ? n - from + 0x21 : becomes)
}

type Own = (word: string) => boolean

/** The text without what looks like a key, and what that was. */
export function cutKeys(text: string, own: Own = () => false): { clean: string; cut: string[] } {
  const runes = Array.from(text)
  const at: number[] = []
  let plain = ''
  runes.forEach((c, i) => {
    const p = plainRune(c)
    for (let k = 0; k < p.length; k++) at.push(i)
    plain += p
  })
  at.push(runes.length)
  const cuts: [number, number][] = []
  const urls: [number, number][] = []
  const cut = (from: number, to: number) => {
    if (to > from) cuts.push([from, to])
  }
  const within = (list: [number, number][], from: number, to: number) =>
    list.some(([a, b]) => from < b && to > a)

  const segments = (from: number, path: string) => {
    let endpoint = false
    for (const s of path.split('/')) {
      const strange = (hasDigit(s) && hasLetter(s)) || random(s) > 0
      if ((endpoint && size(s) >= 6 && strange) || (size(s) >= 16 && keyLike(s))) cut(from, from + s.length)
      endpoint ||= s === 'whip' || s === 'ingest' || s === 'publish'
      from += s.length + 1
    }
  }
  for (const m of plain.matchAll(address)) {
    const from = m.index
    let to = from + m[0].length
    while (to > from && '.,;:!?)]}'.includes(plain[to - 1]!)) to--
    const scheme = m[1]!.toLowerCase()
    const rest = from + m[1]!.length + 3
    urls.push([from, to])
    let host = rest
    while (host < to && plain[host] !== '/' && plain[host] !== '?') host++
    const named = plain.slice(rest, host)
    const user = named.lastIndexOf('@')
    const colon = user < 0 ? -1 : named.slice(0, user).indexOf(':')
    if (colon >= 0) cut(rest + colon + 1, rest + user)
    let path = plain.slice(host, to)
    let query = to
    const q = path.indexOf('?')
    if (q >= 0) {
      query = host + q
      path = path.slice(0, q)
    }
    if (scheme.startsWith('rtmp')) {
      const app = plain.slice(Math.min(host + 1, to), to).indexOf('/')
      if (app >= 0) cut(host + 1 + app + 1, to)
    } else segments(host, path)
    for (const s of plain.slice(query, to).matchAll(secretIn)) {
      const end = query + s.index + s[0].length
      cut(end - s[2]!.length, end)
    }
  }

  const nextLine = (from: number) => {
    const rest = plain.slice(from).replace(/^-+/, '')
    if (!rest.startsWith('\n')) return
    const start = plain.length - rest.length + 1
    const v = long6.exec(plain.slice(start))?.[0] ?? ''
    if (v && mixed(v)) cut(start, start + v.length)
  }
  const value = (name: string, sep: string, from: number) => {
    const rest = plain.slice(from)
    const strong = name.length > 6 || name === 'psk' || name === 'passwd'
    const phrase = name.startsWith('pass') && name.length > 4
    if (rest === '') return
    const quote = rest[0]
    if (quote === '"' || quote === "'") {
      const end = rest.slice(1).indexOf(quote)
      if (size(rest.slice(1, 1 + Math.max(0, end))) >= 4 && (strong || !rest.slice(1, 1 + end).includes(' ')))
        cut(from + 1, from + 1 + end)
      return
    }
    if (sep === '>') {
      const end = rest.indexOf('<')
      if (size(rest.slice(0, Math.max(0, end))) >= 4 && plain[from - name.length - 2] === '<')
        cut(from, from + end)
      return
    }
    const v = (word.exec(rest)?.[0] ?? '').replace(/[.:!?)\]}]+$/, '')
    if (v === '' || v.startsWith('[') || stop.has(v.toLowerCase())) return
    const after = rest.slice(v.length)
    const clause = /[.,;(\n]/.exec(after)?.index ?? after.length
    const more = after.slice(0, clause).trim()
    const said = ['is', 'was', 'ist', '-', ''].includes(sep)
    const letters = lettersOnly(v)
    const digits = hasDigit(v)
    if (phrase && more !== '' && phrased(v + ' ' + more))
      cut(from, from + v.length + after.indexOf(more) + more.length)
    else if (digits && !letters && secret(v, strong)) {
      cut(from, from + v.length)
      nextLine(from + v.length)
    } else if (!letters && !digits) {
      if (strong && size(v) >= 6 && /[-_]/.test(v) && more === '') cut(from, from + v.length)
    } else if (letters && random(v) > 0 && size(v) >= 8) {
      cut(from, from + v.length)
      nextLine(from + v.length)
    } else if (
      letters &&
      more === '' &&
      ((strong && (!said || size(v) >= 6)) || (!said && (sep === '=' || lower(v)) && size(v) > 2))
    )
      cut(from, from + v.length)
  }
  for (let from = 0; from < plain.length;) {
    nameIs.lastIndex = 0
    const m = nameIs.exec(plain.slice(from))
    if (!m) break
    const name = m[1]!.toLowerCase()
    const sep = m[2]!.toLowerCase().replace(/^[ \t\n"']+|[ \t\n"']+$/g, '')
    const end = from + m.index + m[0].length
    if (!within(urls, end - 1, end)) value(name, sep, end)
    from = end - m[2]!.length
  }
  for (const m of plain.matchAll(flagged)) {
    const end = m.index + m[0].length
    const v = word.exec(plain.slice(end))?.[0] ?? ''
    if (v !== '' && !stop.has(v.toLowerCase())) cut(end, end + v.length)
  }

  for (const m of plain.matchAll(bearer))
    if (mixed(m[1]!)) cut(m.index + m[0].length - m[1]!.length, m.index + m[0].length)
  for (const m of plain.matchAll(jwt)) cut(m.index, m.index + m[0].length)

  for (const m of plain.matchAll(lines2)) {
    const [a, b] = [m[1]!, m[2]!]
    const second = m.index + a.length + 1
    if (
      a.length + b.length >= 16 &&
      random(a) + random(b) >= 10 &&
      random(a) > 0 &&
      mixed(b) &&
      !within(urls, m.index, second + b.length)
    ) {
      cut(m.index, m.index + a.length)
      cut(second, second + b.length)
    }
  }

  for (const m of plain.matchAll(groups)) {
    const all = m[0].split(' ')
    let from = m.index
    for (let i = 0; i < all.length;) {
      let n = i
      let length = 0
      while (n < all.length && all[n]!.length === all[i]!.length && hasDigit(all[n]!) && hasLetter(all[n]!))
        length += all[n++]!.length + 1
      if (n - i >= 3) cut(from, from + length - 1)
      if (n === i) length = all[n++]!.length + 1
      from += length
      i = n
    }
  }

  for (const m of plain.matchAll(long)) {
    const s = m[0]
    const end = m.index + s.length
    if (within(urls, m.index, end) || within(cuts, m.index, end) || own(s)) continue
    if (before.test(plain.slice(Math.max(0, m.index - 24), m.index))) continue
    if (keyLike(s)) cut(m.index, end)
  }

  cuts.sort((a, b) => a[0] - b[0])
  const taken: string[] = []
  let clean = ''
  let done = 0
  let end = -1
  for (const [from, to] of cuts) {
    if (from < end) {
      if (to > end) {
        end = to
        done = at[end]!
      }
      continue
    }
    if (stripped.includes(plain.slice(from, to))) continue // it was taken out before
    clean += runes.slice(done, at[from]).join('') + stripped
    taken.push(runes.slice(at[from], at[to - 1]! + 1).join(''))
    end = to
    done = at[end - 1]! + 1
  }
  return end < 0 ? { clean: text, cut: [] } : { clean: clean + runes.slice(done).join(''), cut: taken }
}

export const withoutKeys = (text: string, own?: Own) => cutKeys(text, own).clean

/** Whether words may be a phrase that opens something. */
function phrased(s: string): boolean {
  const all = s
    .replace(/^["'`]+|["'`]+$/g, '')
    .split(/[\t\n\f\r ]+/)
    .filter(Boolean)
  return all.length >= 3 && all.length <= 8 && all.every((w) => !stop.has(w) && lower(w) && lettersOnly(w))
}

/** Whether a word with digits after a word for key is one. */
function secret(v: string, strong: boolean): boolean {
  if (!number.test(v.toLowerCase())) return size(v) >= 4 || strong
  const dashes = v.split('-').length - 1
  return (
    (/^[0-9]+$/.test(v) && v.length >= 6 && (strong || v.length >= 8)) ||
    (strong && v.length >= 10 && dashes > 0)
  )
}

/** Whether a word of 16 characters or more is one nobody would write. */
function keyLike(s: string): boolean {
  if (hexOnly.test(s)) return false
  const parts = s.split(/[-_]/).filter(Boolean)
  let even = parts.length >= 3
  let [letters, digits, sum] = [0, 0, 0]
  for (const p of parts) {
    even &&= p.length === parts[0]!.length && p.length >= 4 && p.length <= 8
    if (hasDigit(p) && !hasLetter(p)) digits++
    if (hasLetter(p) && !hasDigit(p)) letters++
    sum += random(p)
  }
  if (even && digits < parts.length && (letters < parts.length || sum >= 8)) return true
  return sum >= 10 || (parts.length === 1 && sum >= 8)
}

/** How many characters of a word nobody would have written: all of them, or none. */
function random(s: string): number {
  const length = size(s)
  if ((hexOnly.test(s) && length >= 16) || dated.test(s)) return 0
  let [digits, vowels, letters, switches, upper, consonants, most] = [0, 0, 0, 0, 0, 0, 0]
  let was = ''
  for (const c of s) {
    if (c >= '0' && c <= '9') digits++
    else if (/\p{L}/u.test(c)) {
      letters++
      if ('aeiouyAEIOUYäöüÄÖÜ'.includes(c)) {
        vowels++
        consonants = 0
      } else most = Math.max(most, ++consonants)
      if (/\p{Lu}/u.test(c)) upper++
      if (/\p{Ll}/u.test(was) && /\p{Lu}/u.test(c)) switches++
    }
    was = c
  }
  if (letters === 0) return 0
  if (digits > 0) return simple.test(s) || length < 4 ? 0 : length
  if (length >= 4 && vowels === 0 && upper < length) return length
  if (length >= 16 && switches >= 3 && upper >= 4 && most >= 5) return length
  if (length >= 8 && (switches * 4 >= length || (vowels * 6 < letters && upper < length))) return length
  return 0
}
