package demo

import (
	"context"

	"eventether/internal/store"
)

// Load keeps the demo rigs in a database, once: a rig the user deleted or changed stays so.
func Load(ctx context.Context, s *store.Store) error {
	return s.Once(ctx, "demo", func(s *store.Store) error {
		if _, _, err := s.Create(ctx, LoftEven(), "demo", "Laid out for the demo"); err != nil {
			return err
		}
		_, _, err := s.Create(ctx, Loft(), "demo", "Laid out for the demo")
		return err
	})
}
