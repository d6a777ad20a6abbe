package server

import (
	"errors"
	"log/slog"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"
	"golang.org/x/sync/semaphore"
)

// A rig read from a body and judged takes some ten times the body's size. Large bodies therefore take turns, by their
// bytes, from before they are read until their answer is sent; one that waits holds nothing but its connection. Small
// ones never wait here.
const (
	smallBody  = 64 << 10
	roomAtOnce = 1 << 20
)

// crowd lets as many large bodies in at once as there is room for.
func crowd() gin.HandlerFunc {
	room := semaphore.NewWeighted(roomAtOnce)
	return func(c *gin.Context) {
		size := c.Request.ContentLength
		if size >= 0 && size <= smallBody {
			c.Next()
			return
		}
		if size < 0 || size > roomAtOnce { // not said, or more than there is room for: it goes alone
			size = roomAtOnce
		}
		if err := room.Acquire(c.Request.Context(), size); err != nil {
			c.Header("Content-Type", "application/problem+json")
			c.AbortWithStatusJSON(http.StatusServiceUnavailable, huma.NewError(http.StatusServiceUnavailable,
				"Too many large files at once; nothing was changed."))
			return
		}
		defer room.Release(size)
		// The time to send it in counts from here.
		deadlines := http.NewResponseController(c.Writer)
		if err := errors.Join(deadlines.SetReadDeadline(time.Now().Add(readWithin)),
			deadlines.SetWriteDeadline(time.Now().Add(answerWithin))); err != nil {
			slog.Warn("large body", "error", err)
		}
		c.Next()
	}
}
