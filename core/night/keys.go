package night

import (
	"regexp"
	"strings"
)

// Stripped stands where text was taken out that looked like a stream key.
const Stripped = "[key-taken-out]"

var (
	// an ingest address: what stands after the application's name is the key
	ingest = regexp.MustCompile(`(?i)\b(rtmps?|srt|whip)://[^\s/]+/[^\s/]+/\S+|(?i)\bsrt://\S*streamid=\S+`)
	// whatever stands after words for key or token
	worded = regexp.MustCompile(`(?i)\b((?:(?:stream|streaming|ingest|access)[ _-]?)?(?:key|token|secret)|streamid)(\s+is\s+|\s*[:=]\s*)(\S+)`)
	// 16 or more letters, digits, dashes and underscores without a space
	long = regexp.MustCompile(`[A-Za-z0-9_-]{16,}`)
)

// WithoutKeys takes out of a text what looks like a stream key: 16 or more letters, digits, dashes and underscores without a
// space, with letters and digits mixed; anything after the application's name in an ingest address; whatever stands after words
// for key or token (handbook 7.2). An id of ours (own tells), and a word in hexadecimal digits alone with no dash, as commits and
// sums are written, is none. found tells whether anything was taken out.
func WithoutKeys(text string, own func(word string) bool) (clean string, found bool) {
	clean = ingest.ReplaceAllStringFunc(text, func(s string) string {
		if at := strings.Index(strings.ToLower(s), "streamid="); at >= 0 {
			return s[:at+len("streamid=")] + Stripped
		}
		host := strings.Index(s, "://") + 3
		app := strings.Index(s[host:], "/") + host + 1
		return s[:app+strings.Index(s[app:], "/")+1] + Stripped
	})
	clean = worded.ReplaceAllString(clean, "${1}${2}"+Stripped)
	clean = long.ReplaceAllStringFunc(clean, func(s string) string {
		if !looksLikeKey(s) || own != nil && own(s) {
			return s
		}
		return Stripped
	})
	return clean, clean != text
}

func looksLikeKey(s string) bool {
	letters, digits, hex := false, false, true
	for _, c := range s {
		switch {
		case c >= '0' && c <= '9':
			digits = true
		case c >= 'a' && c <= 'f':
			letters = true
		case c == '-' || c == '_':
			hex = false
		default:
			letters, hex = true, false
		}
	}
	return letters && digits && !hex
}
