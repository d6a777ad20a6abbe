package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"

	"eventether/core/rig"
)

// Profile is one state of what a destination of one's own takes.
type Profile struct {
	ID     uuid.UUID `gorm:"primaryKey"`
	Number int       `gorm:"primaryKey"`
	Name   string
	Doc    []byte `gorm:"type:jsonb"`
	Who    string
	At     time.Time
	Gone   bool
}

// Known decodes it.
func (p *Profile) Known() (k rig.Known, err error) {
	if err := json.Unmarshal(p.Doc, &k); err != nil {
		return k, fmt.Errorf("destination %q: %w", p.Name, err)
	}
	return k, nil
}

// ErrNoProfile says that there is no destination of that name.
var ErrNoProfile = errors.New("no destination of one's own is called that")

const newestProfiles = "select distinct on (id) * from profiles order by id, number desc"

// Profiles lists the destinations of one's own, by name.
func (s *Store) Profiles(ctx context.Context) (out []Profile, err error) {
	return out, s.db.WithContext(ctx).Raw("select * from (" + newestProfiles + ") p where not gone order by name, id").
		Scan(&out).Error
}

// KeepProfile keeps what a destination takes under its name; one of the same name gets another state, and what stood
// there before stays in its history. Keeping what stands there already changes nothing.
func (s *Store) KeepProfile(ctx context.Context, k rig.Known, who string) error {
	doc, err := json.Marshal(k)
	if err != nil {
		return err
	}
	return s.nextProfile(ctx, k.Name, who, func(was *Profile) (*Profile, error) {
		if was == nil {
			return &Profile{ID: uuid.New(), Name: k.Name, Doc: doc}, nil
		}
		if had, err := was.Known(); err == nil && !was.Gone {
			if old, err := json.Marshal(had); err == nil && string(old) == string(doc) {
				return nil, nil
			}
		}
		return &Profile{ID: was.ID, Number: was.Number, Name: k.Name, Doc: doc}, nil
	})
}

// DropProfile takes a destination off the list; keeping one of its name brings it back.
func (s *Store) DropProfile(ctx context.Context, name, who string) error {
	if rig.TextProblem(name) != "" {
		return fmt.Errorf("%w: %q", ErrNoProfile, name)
	}
	return s.nextProfile(ctx, name, who, func(was *Profile) (*Profile, error) {
		if was == nil || was.Gone {
			return nil, fmt.Errorf("%w: %q", ErrNoProfile, name)
		}
		return &Profile{ID: was.ID, Number: was.Number, Name: name, Doc: was.Doc, Gone: true}, nil
	})
}

// nextProfile adds the state that follows the newest of a name.
func (s *Store) nextProfile(ctx context.Context, name, who string, next func(was *Profile) (*Profile, error)) error {
	return s.write(ctx, func(s *Store) error {
		if err := s.db.Exec("lock table profiles in exclusive mode").
			Error; err != nil { // two of one name would be two destinations
			return err
		}
		var there []Profile
		if err := s.db.Raw("select * from ("+newestProfiles+") p where name = ? order by gone, id limit 1",
			name).Scan(&there).Error; err != nil {
			return err
		}
		var was *Profile
		if len(there) > 0 {
			was = &there[0]
		}
		p, err := next(was)
		if err != nil || p == nil {
			return err
		}
		p.Number, p.Who, p.At = p.Number+1, who, time.Now()
		return s.db.Create(p).Error
	})
}

// WholeProfile is a destination of one's own with every state.
type WholeProfile struct {
	ID     uuid.UUID `json:"id"`
	States []Profile `json:"states"`
}

func (s *Store) eachProfile(do func(WholeProfile) error) error {
	var all []Profile
	if err := s.db.Order("id, number").Find(&all).Error; err != nil {
		return err
	}
	for from := 0; from < len(all); {
		to := from
		for to < len(all) && all[to].ID == all[from].ID {
			to++
		}
		if err := do(WholeProfile{all[from].ID, all[from:to]}); err != nil {
			return err
		}
		from = to
	}
	return nil
}

// BringProfile brings a destination back, as BringRig does a rig.
func (s *Store) BringProfile(ctx context.Context, w WholeProfile) (came Came, err error) {
	if err := numbered(w.States, func(p *Profile) (int, bool) { return p.Number, p.ID == w.ID }); err != nil {
		return "", fmt.Errorf("destination %s: %w", w.ID, err)
	}
	err = s.write(ctx, func(s *Store) error {
		var there []Profile
		if err := s.db.Where("id = ?", w.ID).Order("number").Find(&there).Error; err != nil {
			return err
		}
		came = history(there, w.States, func(a, b *Profile) bool {
			return a.Number == b.Number && a.Gone == b.Gone && a.Name == b.Name && sameJSON(a.Doc, b.Doc)
		})
		if came != CameNew && came != CameLonger {
			return nil
		}
		return s.db.CreateInBatches(w.States[len(there):], 200).Error
	})
	return came, err
}
