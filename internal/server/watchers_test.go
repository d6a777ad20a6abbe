package server

import (
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"
)

// Two operations are told of in any order: whoever has heard neither hears the later one, and nobody waits for anybody.
func TestWhoHasNotHeardYetHearsTheLater(t *testing.T) {
	var w watchers
	id, other := uuid.New(), uuid.New()
	slow, leave := w.join(id)
	_, leaveOther := w.join(other)
	w.tell(id, 6)
	w.tell(id, 5)
	w.tell(other, 9)
	require.Equal(t, int64(6), <-slow)
	w.tell(id, 7)
	require.Equal(t, int64(7), <-slow)
	require.Empty(t, slow)
	leave()
	w.tell(id, 8)
	require.Empty(t, slow)
	leaveOther()
	require.Empty(t, w.of)
}
