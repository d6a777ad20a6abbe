// Package archive answers: what does everything look like in one file, and how does it come back? An archive is a zip of JSON
// documents: manifest.json, and one for each rig with its revisions, each thing on the shelf, each destination of one's own, each night with its operations.
package archive

import (
	"archive/zip"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"path"
	"strings"
	"time"

	"eventether/core/rig"
	"eventether/internal/store"
)

// Format names the archive, with the number of its form.
const (
	FormatPrefix = "eventether-backup/"
	Format       = "eventether-backup/1"
)

// Bounds of what is read: what stands in one document, and in all of them. A zip may say less than it unpacks to.
const (
	mostOne  = 64 << 20
	mostAll  = 2 << 30
	mostDocs = 200_000
)

// Manifest is the first document of an archive.
type Manifest struct {
	Format string    `json:"format"`
	Made   time.Time `json:"made"`
}

// Report is what became of everything in an archive.
type Report struct {
	Made time.Time `json:"made" doc:"When the archive was made"`
	Rows []Row     `json:"rows"`
}

// Row is what became of one thing.
type Row struct {
	Kind string     `json:"kind" enum:"rig,shelf,profile,night"`
	ID   string     `json:"id"`
	Name string     `json:"name"`
	Came store.Came `json:"came" enum:"new,longer,same,ahead,clash"`
}

// Count is how many came in a way.
func (r *Report) Count(c store.Came) (n int) {
	for i := range r.Rows {
		if r.Rows[i].Came == c {
			n++
		}
	}
	return n
}

// Unusable says why an archive cannot be read; nothing of it was taken.
type Unusable struct{ why string }

func (u *Unusable) Error() string { return u.why }

func unusable(format string, args ...any) error { return &Unusable{fmt.Sprintf(format, args...)} }

// Write writes everything there is, as it was at one moment.
func Write(ctx context.Context, s *store.Store, to io.Writer, made time.Time) error {
	z := zip.NewWriter(to)
	put := func(name string, doc any) error {
		w, err := z.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Deflate, Modified: made})
		if err != nil {
			return err
		}
		enc := json.NewEncoder(w)
		enc.SetEscapeHTML(false)
		return enc.Encode(doc)
	}
	if err := put("manifest.json", Manifest{Format, made.UTC()}); err != nil {
		return err
	}
	err := s.Each(ctx,
		func(w store.WholeRig) error { return put("rigs/"+w.Rig.ID.String()+".json", rigOf(&w)) },
		func(w store.WholeEntry) error { return put("shelf/"+w.Entry.ID+".json", entryOf(&w)) },
		func(w store.WholeProfile) error { return put("profiles/"+w.ID.String()+".json", profileOf(&w)) },
		func(w store.WholeNight) error { return put("nights/"+w.Night.ID.String()+".json", nightOf(&w)) })
	if err != nil {
		return err
	}
	return z.Close()
}

// Read brings an archive back. It is read through once before anything is taken: one that is cut short, altered, or of a newer
// version leaves everything as it is. What is there already is never overwritten.
func Read(ctx context.Context, s *store.Store, from io.ReaderAt, size int64) (*Report, error) {
	z, err := zip.NewReader(from, size)
	if err != nil {
		return nil, unusable("this is no archive, or it is cut short: %s", err)
	}
	if len(z.File) > mostDocs {
		return nil, unusable("%d documents: no archive of this application has more than %d", len(z.File), mostDocs)
	}
	left := int64(mostAll)
	docs := func(take func(f *zip.File, raw []byte) error) error {
		left = mostAll
		for _, f := range z.File {
			raw, err := read(f, &left)
			if err != nil {
				return err
			}
			if err := take(f, raw); err != nil {
				return err
			}
		}
		return nil
	}
	var m Manifest
	seen := map[string]bool{}
	err = docs(func(f *zip.File, raw []byte) error {
		if seen[f.Name] {
			return unusable("%s stands twice in the archive", f.Name)
		}
		seen[f.Name] = true
		if f.Name == "manifest.json" {
			return parse(f.Name, raw, &m)
		}
		_, err := document(f.Name, raw)
		return err
	})
	if err != nil {
		return nil, err
	}
	switch {
	case m.Format == Format:
	case strings.HasPrefix(m.Format, FormatPrefix):
		return nil, unusable("format %q: this version reads %q; the archive is of a newer one", m.Format, Format)
	default:
		return nil, unusable("manifest.json is missing or says no format: this is no archive of this application")
	}
	report := &Report{Made: m.Made, Rows: []Row{}}
	for _, kind := range []string{"shelf", "profiles", "rigs", "nights"} { // nights stand on rigs
		if err := docs(func(f *zip.File, raw []byte) error {
			if path.Dir(f.Name) != kind {
				return nil
			}
			doc, err := document(f.Name, raw)
			if err != nil {
				return err
			}
			row, err := doc.bring(ctx, s)
			if err != nil {
				return fmt.Errorf("%s: %w", f.Name, err)
			}
			report.Rows = append(report.Rows, row)
			return nil
		}); err != nil {
			return report, err
		}
	}
	return report, nil
}

func read(f *zip.File, left *int64) ([]byte, error) {
	if f.UncompressedSize64 > mostOne {
		return nil, unusable("%s says it is %d MB: no document of this application is larger than %d", f.Name, f.UncompressedSize64>>20, mostOne>>20)
	}
	r, err := f.Open()
	if err != nil {
		return nil, unusable("%s cannot be unpacked: %s", f.Name, err)
	}
	defer r.Close()
	raw, err := io.ReadAll(io.LimitReader(r, mostOne+1))
	if err != nil {
		return nil, unusable("%s is damaged: %s", f.Name, err)
	}
	if *left -= int64(len(raw)); *left < 0 || len(raw) > mostOne {
		return nil, unusable("the archive unpacks to more than %d MB", mostAll>>20)
	}
	return raw, nil
}

func parse(name string, raw []byte, to any) error {
	d := json.NewDecoder(strings.NewReader(string(raw)))
	d.DisallowUnknownFields()
	if err := d.Decode(to); err != nil {
		return unusable("%s: %s", name, err)
	}
	if _, err := d.Token(); !errors.Is(err, io.EOF) {
		return unusable("%s: more than one document", name)
	}
	return nil
}

// brought is something that can be brought back.
type brought interface {
	bring(ctx context.Context, s *store.Store) (Row, error)
	check(name string) error
}

// document reads one document of an archive, by where it stands.
func document(name string, raw []byte) (brought, error) {
	var doc brought
	switch path.Dir(name) {
	case "rigs":
		doc = new(rigDoc)
	case "shelf":
		doc = new(entryDoc)
	case "profiles":
		doc = new(profileDoc)
	case "nights":
		doc = new(nightDoc)
	default:
		if name == "manifest.json" {
			return nil, nil
		}
		return nil, unusable("%s: nothing of this application stands there", name)
	}
	if err := parse(name, raw, doc); err != nil {
		return nil, err
	}
	return doc, doc.check(name)
}

// rigProblem says what is wrong with a rig of an archive, if anything.
func rigProblem(r *rig.Rig) string {
	if p := rig.Check(r); len(p) > 0 {
		return p[0].String()
	}
	return ""
}
