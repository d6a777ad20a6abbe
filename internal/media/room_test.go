package media

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/picture"
)

func TestMeasuringAsksForRoom(t *testing.T) {
	require.NoError(t, roomFor(&Options{Width: 64, Height: 64, Rate: picture.R(1)}))
	err := roomFor(&Options{Width: 8192, Height: 8192, Rate: picture.R(100000)})
	require.ErrorContains(t, err, "are free there")
}
