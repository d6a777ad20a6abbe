package store

import (
	"context"
	"errors"
	"fmt"
	"io"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"

	"eventether/core/gear"
)

// A request asked for twice under one key is done once, whatever it is, also by two at the same time; a key does not
// stand for another request.
func TestAskingAgainIsHarmless(t *testing.T) {
	s := open(t)
	key := func(name string) context.Context {
		return WithKey(t.Context(), Key{Name: t.Name() + name, Print: []byte(name)})
	}
	var rows [8]Rig
	var wg sync.WaitGroup
	for i := range rows {
		wg.Go(func() {
			row, rev, err := s.Create(key("create"), named(t, "Once"), "ann", "made")
			if err == nil && rev.Number == 1 {
				rows[i] = row
			}
		})
	}
	wg.Wait()
	for _, row := range rows {
		require.NotEqual(t, uuid.Nil, row.ID)
		require.Equal(t, rows[0].ID, row.ID, "one rig for eight requests")
	}
	id := rows[0].ID
	for range 2 {
		_, rev, err := s.Save(key("edit"), id, 1, named(t, "Twice"), "ann", "called Twice")
		require.NoError(t, err, "the edit does not clash with itself")
		require.Equal(t, 2, rev.Number)
	}
	for range 2 {
		_, rev, err := s.Undo(key("undo"), id, 2, "ann")
		require.NoError(t, err)
		require.Equal(t, 3, rev.Number)
		require.Equal(t, "Once", rev.Name)
	}
	revs, err := s.History(t.Context(), id)
	require.NoError(t, err)
	require.Len(t, revs, 3)
	_, _, err = s.Create(WithKey(t.Context(), Key{Name: t.Name() + "create", Print: []byte("something else")}),
		named(t, "Other"), "ann", "made")
	require.ErrorIs(t, err, ErrKeyUsed)

	e := gear.Entry{ID: "asked-twice", Gear: gear.Gear{Kind: gear.Hub, Name: "Asked twice"}}
	for range 2 {
		row, _, err := s.PutOnShelf(key("put"), e, "ann", "put")
		require.NoError(t, err)
		require.Equal(t, "asked-twice", row.ID)
	}
	e.Owned = true
	for range 2 {
		_, rev, err := s.SaveOnShelf(key("save"), e, 1, "ann", "owned")
		require.NoError(t, err)
		require.Equal(t, 2, rev.Number)
	}
	// One that failed was not done: the key is free for the next try.
	_, _, err = s.SaveOnShelf(key("late"), e, 1, "ann", "owned")
	require.ErrorAs(t, err, new(*Clash))
	_, _, err = s.SaveOnShelf(WithKey(t.Context(), Key{Name: t.Name() + "late", Print: []byte("late")}), e, 2, "ann",
		"owned")
	require.NoError(t, err)
}

// A deadline that strikes while a transaction commits does not lose its answer: what was kept is answered as kept, what
// was not is not there.
func TestNoDeadlineBetweenCommitAndAnswer(t *testing.T) {
	s := open(t)
	ctx, cancel := context.WithCancel(t.Context())
	id := uuid.New()
	err := s.write(ctx, func(s *Store) error {
		row := Rig{ID: id, Head: 1, Name: "At the edge", State: "slack", CreatedAt: time.Now(), UpdatedAt: time.Now()}
		if err := s.db.Create(&row).Error; err != nil {
			return err
		}
		cancel() // the request ends here, before the commit
		return nil
	})
	require.NoError(t, err)
	var n int64
	require.NoError(t, s.db.WithContext(t.Context()).Model(&Rig{}).Where("id = ?", id).Count(&n).Error)
	require.EqualValues(t, 1, n)

	ctx, cancel = context.WithCancel(t.Context())
	cancel()
	_, _, err = s.Create(ctx, named(t, "Never"), "ann", "made")
	require.Error(t, err)
	rigs, err := s.List(t.Context(), false)
	require.NoError(t, err)
	for _, r := range rigs {
		require.NotEqual(t, "Never", r.Name)
	}
}

// The shelf is read as it is at one moment while others change it, and two who import the same in other orders both
// succeed.
func TestShelfWhileItChanges(t *testing.T) {
	s := open(t)
	var entries []gear.Entry
	for i := range 12 {
		entries = append(entries, gear.Entry{ID: fmt.Sprintf("crossed-%d", i), Gear: gear.Gear{Kind: gear.Hub,
			Name: fmt.Sprintf("Crossed %d", i)}})
	}
	back := make([]gear.Entry, len(entries))
	for i, e := range entries {
		back[len(entries)-1-i] = e
	}
	var writers, readers sync.WaitGroup
	errs := make(chan error, 1000)
	done := make(chan struct{})
	for _, list := range [][]gear.Entry{entries, back, entries, back} {
		writers.Go(func() {
			for range 6 {
				_, _, err := s.PutAllOnShelf(t.Context(), list, "ann", "imported")
				errs <- err
			}
		})
	}
	for range 3 {
		readers.Go(func() {
			for {
				rows, revs, err := s.Shelf(t.Context(), false)
				errs <- err
				for i := range rows {
					if rows[i].ID != revs[i].EntryID || rows[i].Head != revs[i].Number {
						errs <- fmt.Errorf("%s at %d is beside %s at %d", rows[i].ID, rows[i].Head, revs[i].EntryID,
							revs[i].Number)
					}
				}
				select {
				case <-done:
					return
				default:
				}
			}
		})
	}
	go func() { writers.Wait(); close(done); readers.Wait(); close(errs) }()
	for err := range errs {
		require.NoError(t, err)
	}
}

// Two transactions that wait for each other: one is begun again.
func TestDeadlocksAreTriedAgain(t *testing.T) {
	s := open(t)
	var ids [2]uuid.UUID
	var feeds [2]int
	for i := range ids {
		row, _, err := s.Create(t.Context(), named(t, fmt.Sprintf("Lock %d", i)), "ann", "made")
		require.NoError(t, err)
		ids[i], feeds[i] = row.ID, row.Feeds
	}
	var both, wg sync.WaitGroup
	both.Add(2)
	errs := [2]error{}
	begun := [2]int{}
	for i := range 2 {
		wg.Go(func() {
			errs[i] = s.write(t.Context(), func(s *Store) error {
				begun[i]++
				if err := s.db.Exec("update rigs set feeds = feeds + 1 where id = ?", ids[i]).Error; err != nil {
					return err
				}
				if begun[i] == 1 {
					both.Done()
					both.Wait()
				}
				return s.db.Exec("update rigs set feeds = feeds + 1 where id = ?", ids[1-i]).Error
			})
		})
	}
	wg.Wait()
	require.NoError(t, errs[0])
	require.NoError(t, errs[1])
	require.GreaterOrEqual(t, begun[0]+begun[1], 3, "one of the two was begun again, and as often as they met")
	for i, id := range ids {
		row, _, err := s.Get(t.Context(), id, 0)
		require.NoError(t, err)
		require.Equal(t, feeds[i]+2, row.Feeds, "each has been there, once")
	}
}

// What the database says becomes what helps; the codes are the server's own, raised by it.
func TestTroubles(t *testing.T) {
	s := open(t)
	raise := func(code string) error {
		return s.db.WithContext(t.Context()).Exec("do $$ begin raise exception 'x' using errcode = '" + code +
			"'; end $$").Error
	}
	for code, want := range map[string]Trouble{"53100": Full, "53300": Away, "57P01": Away, "57P03": Away,
		"08006": Away, "57014": Late,
		"40P01": Clashed, "40001": Clashed, "22021": Refused, "22003": Refused, "23505": Refused, "42P01": Inside} {
		require.Equal(t, want, TroubleOf(raise(code)), code)
	}
	_, err := Open(t.Context(), "postgres://x:y@127.0.0.1:1/none?sslmode=disable")
	require.Equal(t, Away, TroubleOf(err))
	require.Equal(t, Away, TroubleOf(fmt.Errorf("waiting: %w", context.DeadlineExceeded)))
	require.Equal(t, Away, TroubleOf(fmt.Errorf("read: %w", io.ErrUnexpectedEOF)))
	require.Equal(t, Inside, TroubleOf(errors.New("anything else")))
	require.Equal(t, Inside, TroubleOf(gorm.ErrInvalidData))
}

// Keys and numbers no row can have are of no rig and no entry; none of them reaches the database's own errors.
func TestKeysThatCannotBe(t *testing.T) {
	s := open(t)
	row, _, err := s.Create(t.Context(), named(t, "Numbered"), "ann", "made")
	require.NoError(t, err)
	for _, n := range []int{-1, 2, 1 << 31, 1 << 62} {
		_, _, err := s.Get(t.Context(), row.ID, n)
		require.ErrorIs(t, err, ErrNotFound, "%d", n)
	}
	for _, id := range []string{"\x00", "a\x00b", "\xff", "\u202ex", "no-such"} {
		_, _, err := s.ShelfEntry(t.Context(), id, 0)
		require.ErrorIs(t, err, ErrNotOnShelf, "%q", id)
		require.ErrorIs(t, s.TakeOffShelf(t.Context(), id), ErrNotOnShelf, "%q", id)
	}
}
