// Package demo loads the made-up world of package rigs into a database, once.
package demo

import (
	"context"

	"eventether/internal/demo/rigs"
	"eventether/internal/store"
)

// Load keeps the demo rigs in a database, once: a rig the user deleted or changed stays so.
func Load(ctx context.Context, s *store.Store) error {
	return s.Once(ctx, "demo", func(s *store.Store) error {
		if _, _, err := s.Create(ctx, rigs.LoftEven(), "demo", "Laid out for the demo"); err != nil {
			return err
		}
		_, _, err := s.Create(ctx, rigs.Loft(), "demo", "Laid out for the demo")
		return err
	})
}
