package server

import (
	"errors"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"eventether/internal/wire"
)

// linesTo answers in lines of JSON, one after the other, for as long as there is something to tell: each has its own time
// to be sent in. An error is one of the connection, whose client has gone.
func linesTo(c *gin.Context) (tell func(any) error) {
	c.Header("Content-Type", "application/x-ndjson")
	c.Header("Cache-Control", "no-store")
	deadlines := http.NewResponseController(c.Writer)
	return func(line any) error {
		text, err := wire.Marshal(line)
		if err != nil {
			return err
		}
		if err := deadlines.SetWriteDeadline(time.Now().Add(answerWithin)); err != nil && !errors.Is(err, http.ErrNotSupported) {
			return err
		}
		if _, err := c.Writer.Write(append(text, '\n')); err != nil {
			return err
		}
		c.Writer.Flush()
		return nil
	}
}
