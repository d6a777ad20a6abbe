package night

import (
	"regexp"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Stripped stands where text was taken out that looked like a stream key.
const Stripped = "[key-taken-out]"

// WithoutKeys takes out of a text what looks like a stream key: what stands after the application's name
// in an ingest address, and what is secret in any address; what stands after words for key, token or passphrase, where
// it is no word of ours; and 16 or more letters, digits, dashes and underscores that no person would write. An id of
// ours (own tells), the number after a word for serial number, dates, file names and sums in hexadecimal are none.
// found tells whether anything was taken out.
//
// web/src/night/keys.ts takes the same steps by the same patterns, words and characters, which are made from those here
// (internal/keyrules); both are held to one corpus, and to each other on random texts.
func WithoutKeys(text string, own func(word string) bool) (clean string, found bool) {
	if !suspicious(text) {
		return text, false
	}
	k := newKeyed(text, own)
	k.addresses()
	k.worded()
	k.bearers()
	k.broken()
	k.spaced()
	k.bare()
	return k.without()
}

// suspicious tells, quickly, whether a text is worth a second look: most are not.
func suspicious(text string) bool {
	run, letters, digits, mixed := 0, false, false, 0
	for i := 0; i <= len(text); i++ {
		c := byte(' ')
		if i < len(text) {
			c = text[i]
		}
		switch {
		case c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z':
			if !letters && (run == 0 || !isLetter(text[i-1])) && triggers(text[i:]) {
				return true
			}
			letters = true
			run++
			continue
		case c >= '0' && c <= '9':
			digits = true
			run++
			continue
		case c == '-' || c == '_':
			if i+1 < len(text) && triggers(text[i+1:]) {
				return true
			}
			run++
			continue
		case c == 0xe2 || c == 0xef: // dashes, quotes and letters of other widths
			return true
		case c == ':' && strings.HasPrefix(text[i:], "://"):
			return true
		}
		if run >= 16 || run >= 6 && letters && digits && (c == '\n' || run >= 10) {
			return true
		}
		if run >= 4 && letters && digits {
			if mixed++; mixed >= 3 {
				return true
			}
		} else if run > 0 {
			mixed = 0
		}
		run, letters, digits = 0, false, false
	}
	return false
}

func isLetter(c byte) bool { return c|0x20 >= 'a' && c|0x20 <= 'z' }

// words of keys, as they begin.
var triggering = []string{"key", "token", "secret", "pass", "psk", "bearer", "streamk", "streamid", "apikey"}

func triggers(s string) bool {
	switch s[0] | 0x20 {
	case 'k', 't', 's', 'p', 'b', 'a':
		for _, w := range triggering {
			if len(s) >= len(w) && strings.EqualFold(s[:len(w)], w) {
				return true
			}
		}
	}
	return false
}

// keyed is a text that is looked through. Its plain form has one rune for each of the text's: letters of full width,
// dashes and quotes as those of ASCII, and nothing that cannot be seen.
type keyed struct {
	text  string
	runes []rune
	plain string // with byte i standing for rune at[i]
	at    []int
	cuts  [][2]int // byte ranges of plain
	urls  [][2]int
	own   func(string) bool
}

func newKeyed(text string, own func(string) bool) *keyed {
	k := &keyed{text: text, runes: []rune(text), own: own}
	var b strings.Builder
	for i, c := range k.runes {
		p := plainRune(c)
		if p < 0 {
			continue
		}
		b.WriteRune(p)
		for range utf8.RuneLen(p) {
			k.at = append(k.at, i)
		}
	}
	k.at = append(k.at, len(k.runes))
	k.plain = b.String()
	return k
}

// plainRunes are characters that stand for one of ASCII: from, to, and which; 0 for the one as far from '!' as it is
// from the first, -1 for those that cannot be seen.
var plainRunes = [][3]rune{
	{0xad, 0xad, -1}, {0x200b, 0x200d, -1}, {0x2060, 0x2060, -1}, {0xfeff, 0xfeff, -1},
	{0xa0, 0xa0, ' '}, {0x2000, 0x200a, ' '}, {0x202f, 0x202f, ' '}, {0x3000, 0x3000, ' '},
	{0xab, 0xab, '"'}, {0xbb, 0xbb, '"'}, {0x201c, 0x201f, '"'},
	{0x2018, 0x201b, '\''}, {0x2039, 0x203a, '\''},
	{0x2010, 0x2015, '-'}, {0x2212, 0x2212, '-'}, {0xfe58, 0xfe58, '-'}, {0xfe63, 0xfe63, '-'},
	{0xff01, 0xff5e, 0}, {0xfffd, 0xfffd, '?'},
}

// plainRune is a character as ASCII has it; negative for one that cannot be seen.
func plainRune(c rune) rune {
	if c < 0x80 {
		return c
	}
	for _, r := range plainRunes {
		switch {
		case c < r[0] || c > r[1]:
		case r[2] == 0:
			return '!' + c - r[0]
		default:
			return r[2]
		}
	}
	return c
}

func (k *keyed) cut(from, to int) {
	if to > from {
		k.cuts = append(k.cuts, [2]int{from, to})
	}
}

func (k *keyed) within(list [][2]int, from, to int) bool {
	return slices.ContainsFunc(list, func(r [2]int) bool { return from < r[1] && to > r[0] })
}

// without is the text without what was cut, each piece once.
func (k *keyed) without() (string, bool) {
	if len(k.cuts) == 0 {
		return k.text, false
	}
	slices.SortFunc(k.cuts, func(a, b [2]int) int { return a[0] - b[0] })
	var out strings.Builder
	at, end := 0, -1
	for _, c := range k.cuts {
		if c[0] < end {
			if c[1] > end {
				end = c[1]
				at = k.at[end]
			}
			continue
		}
		if strings.Contains(Stripped, k.plain[c[0]:c[1]]) { // it was taken out before
			continue
		}
		out.WriteString(string(k.runes[at:k.at[c[0]]]))
		out.WriteString(Stripped)
		end = c[1]
		at = k.at[end-1] + 1
	}
	if end < 0 {
		return k.text, false
	}
	out.WriteString(string(k.runes[at:]))
	return out.String(), true
}

var (
	address  = regexp.MustCompile(`(?i)\b([a-z][a-z0-9+.]*)://[^\s"'<>]+`)
	secretIn = regexp.MustCompile(`(?i)[?&;,](stream_?-?id|passphrase|password|pass|psk|secret|(?:stream|api|access)?[_-]?key|(?:access|auth)?[_-]?token|auth|sig|signature)=([^&;\s"']*)`)
	names    = `stream(?:ing)?[ _-]?key|ingest[ _-]?key|api[ _-]?key|access[ _-]?(?:token|key)|secret[ _-]?key|passphrase|passwor[dt]|passwd|psk|stream[ _-]?id|key|token|secret|pass`
	nameIs   = regexp.MustCompile(`(?i)(?:^|[^a-z0-9])(` + names +
		`)(["']?\s*(?:=>|->|[:=→>])\s*| (?:is|was|ist) | - )`)
	flagged = regexp.MustCompile(`(?i)--(` + names + `)[ =]`)
	bearer  = regexp.MustCompile(`(?i)\bbearer\s+(?:token\s+)?([a-z0-9._~+/=-]{8,})`)
	jwt     = regexp.MustCompile(`\beyJ[A-Za-z0-9_-]{6,}(?:\.[A-Za-z0-9_-]+)*`)
	lines2  = regexp.MustCompile(`([A-Za-z0-9_-]{6,})\n([A-Za-z0-9_-]{6,})(?:\s|$)`)
	groups  = regexp.MustCompile(`\b[A-Za-z0-9]{4,6}(?: [A-Za-z0-9]{4,6}){2,}\b`)
	long    = regexp.MustCompile(`[A-Za-z0-9_-]{16,}`)
	before  = regexp.MustCompile(`(?i)(?:serial(?: (?:number|no\.?|nr\.?))?|s/n|sn|model|part|firmware|version|order|invoice|ticket|commit|sum|sha256|md5|mac)[ :#]*$`)
	word    = regexp.MustCompile(`^[^\s"'<>,;]+`)
)

// stop are words that stand after a word for key and are none.
var stop = strings.Fields(`a an and are ask asked at at: below by changed copied die der expired for from in ist is it la le lost missing new no none not of on or over-there renewed reset same see taken
	the to under unter unknown was with wrong yes your my his her their our above later tbd none. beim bei on: what when where`)

// addresses cuts what is secret in addresses.
func (k *keyed) addresses() {
	for _, m := range address.FindAllStringSubmatchIndex(k.plain, -1) {
		from, to := m[0], m[1]
		for to > from && strings.IndexByte(".,;:!?)]}", k.plain[to-1]) >= 0 {
			to--
		}
		scheme, rest := strings.ToLower(k.plain[m[2]:m[3]]), m[3]+3
		k.urls = append(k.urls, [2]int{from, to})
		url := k.plain[:to]
		host := rest
		for host < to && url[host] != '/' && url[host] != '?' {
			host++
		}
		if at := strings.LastIndexByte(url[rest:host], '@'); at >= 0 {
			if colon := strings.IndexByte(url[rest:rest+at], ':'); colon >= 0 {
				k.cut(rest+colon+1, rest+at)
			}
		}
		path, query := url[host:to], to
		if q := strings.IndexByte(path, '?'); q >= 0 {
			query = host + q
			path = path[:q]
		}
		if strings.HasPrefix(scheme, "rtmp") {
			if app := strings.IndexByte(url[min(host+1, to):to], '/'); app >= 0 {
				k.cut(host+1+app+1, to)
			}
		} else {
			k.segments(host, path)
		}
		for _, s := range secretIn.FindAllStringSubmatchIndex(url[query:to], -1) {
			k.cut(query+s[4], query+s[5])
		}
	}
}

// segments cuts the parts of a path that are keys: behind a word for an endpoint of its own what is no word, elsewhere
// what looks so.
func (k *keyed) segments(at int, path string) {
	endpoint := false
	for _, s := range strings.Split(path, "/") {
		mixed := strings.ContainsAny(s, "0123456789") && strings.IndexFunc(s, unicode.IsLetter) >= 0
		if endpoint && len(s) >= 6 && (mixed || random(s) > 0) || len(s) >= 16 && keyLike(s) {
			k.cut(at, at+len(s))
		}
		endpoint = endpoint || s == "whip" || s == "ingest" || s == "publish"
		at += len(s) + 1
	}
}

// worded cuts what stands after words for key.
func (k *keyed) worded() {
	for at := 0; at < len(k.plain); {
		m := nameIs.FindStringSubmatchIndex(k.plain[at:])
		if m == nil {
			break
		}
		name, sep := strings.ToLower(k.plain[at+m[2]:at+m[3]]), strings.Trim(strings.ToLower(k.plain[at+m[4]:at+m[5]]),
			" \t\n\"'")
		value := at + m[5]
		at += m[3]
		if !k.within(k.urls, value-1, value) {
			k.value(name, sep, value)
		}
	}
	for _, m := range flagged.FindAllStringSubmatchIndex(k.plain, -1) {
		if v := word.FindString(k.plain[m[1]:]); v != "" && !slices.Contains(stop, strings.ToLower(v)) {
			k.cut(m[1], m[1]+len(v))
		}
	}
}

// value looks at what stands after a word for key, and cuts it where it is one.
func (k *keyed) value(name, sep string, at int) {
	rest := k.plain[at:]
	strong := len(name) > 6 || name == "psk" || name == "passwd" // a word that stands for nothing else
	phrase := strings.HasPrefix(name, "pass") && len(name) > 4
	if rest == "" {
		return
	}
	if q := rest[0]; q == '"' || q == '\'' {
		if end := strings.IndexByte(rest[1:], q); end >= 4 && (strong || !strings.Contains(rest[1:1+end], " ")) {
			k.cut(at+1, at+1+end)
		}
		return
	}
	if sep == ">" { // of a tag
		if end := strings.IndexByte(rest, '<'); end >= 4 && k.plain[at-len(name)-2] == '<' {
			k.cut(at, at+end)
		}
		return
	}
	v := strings.TrimRight(word.FindString(rest), ".:!?)]}")
	if v == "" || strings.HasPrefix(v, "[") || slices.Contains(stop, strings.ToLower(v)) {
		return
	}
	after := rest[len(v):]
	clause := strings.IndexAny(after, ".,;(\n")
	if clause < 0 {
		clause = len(after)
	}
	more := strings.TrimSpace(after[:clause])
	said := sep == "is" || sep == "was" || sep == "ist" || sep == "-" || sep == ""
	letters := strings.IndexFunc(v, func(c rune) bool { return !unicode.IsLetter(c) }) < 0
	digits := strings.ContainsAny(v, "0123456789")
	switch {
	case phrase && more != "" && phrased(v+" "+more):
		k.cut(at, at+len(v)+strings.Index(after, more)+len(more))
	case digits && !letters && secret(v, strong):
		k.cut(at, at+len(v))
		k.nextLine(at + len(v))
	case !letters && !digits:
		if strong && len(v) >= 6 && strings.ContainsAny(v, "-_") && more == "" {
			k.cut(at, at+len(v))
		}
	case letters && random(v) > 0 && len(v) >= 8:
		k.cut(at, at+len(v))
		k.nextLine(at + len(v))
	case letters && more == "" && (strong && (!said || len(v) >= 6) || !said && (sep == "=" || lower(v)) && len(v) > 2):
		k.cut(at, at+len(v))
	}
}

// nextLine cuts what a key goes on with on the next line.
func (k *keyed) nextLine(at int) {
	rest := strings.TrimLeft(k.plain[at:], "-")
	if !strings.HasPrefix(rest, "\n") {
		return
	}
	from := len(k.plain) - len(rest) + 1
	v := long6.FindString(k.plain[from:])
	if v != "" && mixed(v) {
		k.cut(from, from+len(v))
	}
}

var long6 = regexp.MustCompile(`^[A-Za-z0-9_-]{6,}`)

func lower(s string) bool { return strings.IndexFunc(s, unicode.IsUpper) < 0 }

// mixed tells whether a word has letters and digits, or looks as if nobody had written it.
func mixed(s string) bool {
	return strings.ContainsAny(s, "0123456789") && strings.IndexFunc(s, unicode.IsLetter) >= 0 || random(s) > 0
}

// phrased tells whether words may be a phrase that opens something: three to eight of small letters, none of them of
// the kind sentences need.
func phrased(s string) bool {
	words := strings.Fields(strings.Trim(s, `"'`))
	if len(words) < 3 || len(words) > 8 {
		return false
	}
	for _, w := range words {
		if slices.Contains(stop, w) || !lower(w) || strings.IndexFunc(w, func(c rune) bool {
			return !unicode.IsLetter(c)
		}) >= 0 {
			return false
		}
	}
	return true
}

var number = regexp.MustCompile(`^[0-9]+([.,:/-][0-9]+)*(?:st|nd|rd|th|ms|[smhx%]|db|kb|mb|gb)?$`)

// secret tells whether a word with digits after a word for key is one.
func secret(v string, strong bool) bool {
	if number.MatchString(strings.ToLower(v)) {
		return strings.Trim(v, "0123456789") == "" && len(v) >= 6 && (strong || len(v) >= 8) ||
			strong && len(v) >= 10 && strings.Count(v, "-") > 0
	}
	return len(v) >= 4 || strong
}

// bearers cuts what is carried in a header.
func (k *keyed) bearers() {
	for _, m := range bearer.FindAllStringSubmatchIndex(k.plain, -1) {
		if v := k.plain[m[2]:m[3]]; mixed(v) {
			k.cut(m[2], m[3])
		}
	}
	for _, m := range jwt.FindAllStringIndex(k.plain, -1) {
		k.cut(m[0], m[1])
	}
}

// broken cuts a key that was broken over two lines.
func (k *keyed) broken() {
	for _, m := range lines2.FindAllStringSubmatchIndex(k.plain, -1) {
		a, b := k.plain[m[2]:m[3]], k.plain[m[4]:m[5]]
		if len(a)+len(b) >= 16 && random(a)+random(b) >= 10 && random(a) > 0 && mixed(b) && !k.within(k.urls, m[2],
			m[5]) {
			k.cut(m[2], m[3])
			k.cut(m[4], m[5])
		}
	}
}

// spaced cuts groups of a key that stand apart: three or more of one length, each with letters and digits.
func (k *keyed) spaced() {
	for _, m := range groups.FindAllStringIndex(k.plain, -1) {
		words := strings.Fields(k.plain[m[0]:m[1]])
		from := m[0]
		for i := 0; i < len(words); {
			n, length := i, 0
			for n < len(words) && len(words[n]) == len(words[i]) && strings.ContainsAny(words[n], "0123456789") &&
				strings.IndexFunc(words[n], unicode.IsLetter) >= 0 {
				length += len(words[n]) + 1
				n++
			}
			if n-i >= 3 {
				k.cut(from, from+length-1)
			}
			if n == i {
				length = len(words[i]) + 1
				n++
			}
			from += length
			i = n
		}
	}
}

// bare cuts what looks like a key by itself.
func (k *keyed) bare() {
	for _, m := range long.FindAllStringIndex(k.plain, -1) {
		s := k.plain[m[0]:m[1]]
		if k.within(k.urls, m[0], m[1]) || k.within(k.cuts, m[0], m[1]) || k.own != nil && k.own(s) ||
			before.MatchString(k.plain[max(0, m[0]-24):m[0]]) {
			continue
		}
		if keyLike(s) {
			k.cut(m[0], m[1])
		}
	}
}

var (
	hexOnly = regexp.MustCompile(`^(?:[0-9a-f]+|[0-9A-F]+)$`)
	dated   = regexp.MustCompile(`^(?:19|20)[0-9]{6}(?:[tT][0-9]{6}[zZ]?)?$`)
	simple  = regexp.MustCompile(`^(?:[A-Za-z]{1,12}[0-9]{1,6}|[0-9]{1,6}[A-Za-z]{1,8}|[0-9]+[A-Za-z][0-9]+(?:[A-Za-z][0-9.]*)?|[A-Za-z]{1,4}[0-9]{1,3}[A-Za-z]{1,3})$`)
)

// keyLike tells whether a word of 16 characters or more is one nobody would write.
func keyLike(s string) bool {
	if hexOnly.MatchString(s) {
		return false
	}
	parts := strings.FieldsFunc(s, func(c rune) bool { return c == '-' || c == '_' })
	even, letters, digits := len(parts) >= 3, 0, 0
	sum := 0
	for _, p := range parts {
		even = even && len(p) == len(parts[0]) && len(p) >= 4 && len(p) <= 8
		hasDigit, hasLetter := strings.ContainsAny(p, "0123456789"), strings.IndexFunc(p, unicode.IsLetter) >= 0
		if hasDigit && !hasLetter {
			digits++
		}
		if hasLetter && !hasDigit {
			letters++
		}
		sum += random(p)
	}
	if even && digits < len(parts) && (letters < len(parts) || sum >= 8) {
		return true
	}
	return sum >= 10 || len(parts) == 1 && sum >= 8
}

// random is how many characters of a word nobody would have written: all of them, or none.
func random(s string) int {
	if hexOnly.MatchString(s) && len(s) >= 16 || dated.MatchString(s) {
		return 0
	}
	digits, vowels, letters, switches := 0, 0, 0, 0
	upper, was, consonants, most := 0, rune(0), 0, 0
	for _, c := range s {
		switch {
		case c >= '0' && c <= '9':
			digits++
		case unicode.IsLetter(c):
			letters++
			if strings.ContainsRune("aeiouyAEIOUYäöüÄÖÜ", c) {
				vowels++
				consonants = 0
			} else {
				consonants++
				most = max(most, consonants)
			}
			if unicode.IsUpper(c) {
				upper++
			}
			if unicode.IsLetter(was) && unicode.IsLower(was) && unicode.IsUpper(c) {
				switches++
			}
		}
		was = c
	}
	switch {
	case letters == 0:
		return 0
	case digits > 0:
		if simple.MatchString(s) || len(s) < 4 {
			return 0
		}
		return len(s)
	case len(s) >= 4 && vowels == 0 && upper < len(s):
		return len(s)
	case len(s) >= 16 && switches >= 3 && upper >= 4 && most >= 5: // letters of both sizes, as they fell
		return len(s)
	case len(s) >= 8 && (switches*4 >= len(s) || vowels*6 < letters && upper < len(s)):
		return len(s)
	}
	return 0
}
