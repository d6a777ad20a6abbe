// Package archive answers: what does everything look like in one file, and how does it come back? An archive is a zip
// of manifest.json and a document for each rig with its revisions, each thing on the shelf, each destination of one's
// own, each night with its operations. What is long is lines of JSON (rigs, nights): the first says what it is, the
// others follow one by one, a revision as what differs from the one before. So neither side ever holds more than one
// line.
package archive

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"path"
	"slices"
	"strings"
	"time"

	"eventether/core/night"
	"eventether/core/rig"
	"eventether/internal/store"
	"eventether/internal/wire"
)

// Format names the archive, with the number of its form; of the first form each rig and night was one document, and before the
// third there were no reports.
const (
	FormatPrefix = "eventether-backup/"
	Format       = "eventether-backup/3"
	Format2      = "eventether-backup/2"
	Format1      = "eventether-backup/1"
)

// Bounds of what is read. A zip may say less than it unpacks to: what unpacks to very much more than it was is not
// ours, whose documents are text that was packed once.
const (
	mostLine   = 64 << 20
	mostOne    = 1 << 30 // a document of the first form
	mostDocs   = 200_000
	mostRatio  = 150
	afterBytes = 64 << 20 // from which on the ratio counts
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
	Kind string     `json:"kind" enum:"rig,shelf,profile,report,night"`
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
	open := func(name string) (*lineWriter, error) {
		w, err := z.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Deflate, Modified: made})
		return &lineWriter{to: w}, err
	}
	put := func(name string, doc any) error {
		w, err := open(name)
		if err != nil {
			return err
		}
		return w.line(doc)
	}
	if err := put("manifest.json", Manifest{Format, made.UTC()}); err != nil {
		return err
	}
	err := s.Each(ctx, store.Whole{
		Rig: func(row store.Rig, revisions func(func(*store.Revision) error) error) error {
			w, err := open("rigs/" + row.ID.String() + ".jsonl")
			if err != nil {
				return err
			}
			if err := w.line(headOfRig(&row)); err != nil {
				return err
			}
			return revisions(func(rev *store.Revision) error { return w.revision(rev) })
		},
		Entry:   func(w store.WholeEntry) error { return put("shelf/"+w.Entry.ID+".json", entryOf(&w)) },
		Profile: func(w store.WholeProfile) error { return put("profiles/"+w.ID.String()+".json", profileOf(&w)) },
		Report:  func(r store.Report) error { return put("reports/"+r.ID.String()+".json", reportOf(&r)) },
		Night: func(row store.Night, ops func(func(night.Op) error) error) error {
			w, err := open("nights/" + row.ID.String() + ".jsonl")
			if err != nil {
				return err
			}
			if err := w.line(headOfNight(&row)); err != nil {
				return err
			}
			return ops(func(op night.Op) error { return w.line(op) })
		},
	})
	if err != nil {
		return err
	}
	return z.Close()
}

// kinds are the folders of an archive, in the order they come back: nights and reports stand on rigs.
var kinds = []string{"shelf", "profiles", "rigs", "reports", "nights"}

// Progress is told how far a restore has come, in bytes of the archive.
type Progress func(done, of int64)

// Read brings an archive back, all of it or nothing: one that is cut short, altered, of a newer version, or that says
// what cannot be, leaves everything as it is. What is there already is never overwritten.
func Read(ctx context.Context, s *store.Store, from io.ReaderAt, size int64, progress Progress) (report *Report,
	err error) {
	z, err := zip.NewReader(from, size)
	if err != nil {
		return nil, unusable("this is no archive, or it is cut short: %s", err)
	}
	if len(z.File) > mostDocs {
		return nil, unusable("%d documents: no archive of this application has more than %d", len(z.File), mostDocs)
	}
	var m Manifest
	of := int64(0)
	seen := map[string]bool{}
	for _, f := range z.File {
		if seen[f.Name] {
			return nil, unusable("%s stands twice in the archive", f.Name)
		}
		seen[f.Name] = true
		of += int64(f.CompressedSize64)
		if f.Name == "manifest.json" {
			raw, err := newUnpacked(z.File).whole(f)
			if err != nil {
				return nil, err
			}
			if err := parse(f.Name, raw, &m); err != nil {
				return nil, err
			}
		} else if !slices.Contains(kinds, path.Dir(f.Name)) {
			return nil, unusable("%s: nothing of this application stands there", f.Name)
		}
	}
	switch {
	case m.Format == Format, m.Format == Format2, m.Format == Format1:
	case strings.HasPrefix(m.Format, FormatPrefix):
		return nil, unusable("format %q: this version reads %q; the archive is of a newer one", m.Format, Format)
	default:
		return nil, unusable("manifest.json is missing or says no format: this is no archive of this application")
	}
	err = s.Together(ctx, func(s *store.Store) error {
		report = &Report{Made: m.Made, Rows: []Row{}}
		unpacked, done := newUnpacked(z.File), int64(0)
		for _, kind := range kinds {
			for _, f := range z.File {
				if path.Dir(f.Name) != kind {
					continue
				}
				if err := ctx.Err(); err != nil {
					return err
				}
				row, err := bring(ctx, s, kind, f, unpacked)
				if err != nil {
					return fmt.Errorf("%s: %w", f.Name, err)
				}
				report.Rows = append(report.Rows, row)
				if done += int64(f.CompressedSize64); progress != nil {
					progress(done, of)
				}
			}
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	return report, nil
}

// bring brings one document back.
func bring(ctx context.Context, s *store.Store, kind string, f *zip.File, u *unpacked) (Row, error) {
	if path.Ext(f.Name) == ".jsonl" {
		lines, err := u.lines(f)
		if err != nil {
			return Row{}, err
		}
		defer lines.Close()
		switch kind {
		case "rigs":
			return bringRig(ctx, s, lines)
		case "nights":
			return bringNight(ctx, s, lines)
		}
		return Row{}, unusable("no document of lines stands there")
	}
	raw, err := u.whole(f)
	if err != nil {
		return Row{}, err
	}
	switch kind {
	case "rigs":
		return bringRig1(ctx, s, raw)
	case "nights":
		return bringNight1(ctx, s, raw)
	case "shelf":
		return bringEntry(ctx, s, raw)
	case "reports":
		return bringReport(ctx, s, raw)
	}
	return bringProfile(ctx, s, raw)
}

func parse(name string, raw []byte, to any) error {
	if err := wire.Numbers(raw); err != nil {
		return unusable("%s: %s", name, err)
	}
	d := json.NewDecoder(bytes.NewReader(raw))
	d.DisallowUnknownFields()
	if err := d.Decode(to); err != nil {
		return unusable("%s: %s", name, err)
	}
	if _, err := d.Token(); !errors.Is(err, io.EOF) {
		return unusable("%s: more than one document", name)
	}
	return nil
}

// rigProblem says what is wrong with a rig of an archive, if anything.
func rigProblem(r *rig.Rig) string {
	if p := rig.Check(r); len(p) > 0 {
		return p[0].String()
	}
	return ""
}
