// Package demo loads the made-up world of package rigs into a database, once, and the shelf everybody begins with.
package demo

import (
	"context"

	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/rig"
	"eventether/internal/demo/rigs"
	"eventether/internal/store"
)

const who = "demo"

// Starter puts typical, made-up things of every kind on the shelf, once: what the user changed or hid stays so.
func Starter(ctx context.Context, s *store.Store) error {
	return s.Once(ctx, "starter-shelf", func(s *store.Store) error {
		return put(ctx, s, gear.Starter(), "Typical figures to begin with")
	})
}

func put(ctx context.Context, s *store.Store, entries []gear.Entry, what string) error {
	for _, e := range entries {
		if _, _, err := s.PutOnShelf(ctx, e, who, what); err != nil {
			return err
		}
	}
	return nil
}

// Load keeps the demo rigs and their shelf in a database, once: what the user deleted or changed stays so.
func Load(ctx context.Context, s *store.Store) error {
	if err := s.Once(ctx, "demo-shelf", func(s *store.Store) error {
		if err := put(ctx, s, rigs.Shelf(), "Laid out for the demo"); err != nil {
			return err
		}
		_, _, err := s.SaveOnShelf(ctx, rigs.Measured(), 1, who, "Draw measured with a meter")
		return err
	}); err != nil {
		return err
	}
	for _, one := range []struct {
		what string
		rigs []*rig.Rig
	}{{"demo-desk", []*rig.Rig{rigs.Desk()}}, {"demo-hall", []*rig.Rig{rigs.Hall()}},
		{"demo", []*rig.Rig{rigs.LoftEven(), rigs.Loft()}}} {
		if err := s.Once(ctx, one.what, func(s *store.Store) error {
			for _, r := range one.rigs {
				row, rev, err := s.Create(ctx, judge.Rig(r), who, "Laid out for the demo")
				if err != nil {
					return err
				}
				if r.Name == rigs.LoftEven().Name {
					if err := season(ctx, s, row.ID, rev.Number); err != nil {
						return err
					}
				}
			}
			return nil
		}); err != nil {
			return err
		}
	}
	return nil
}
