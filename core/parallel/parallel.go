// Package parallel answers: how is one piece of work done beside another?
//
// Do runs work in a goroutine of its own. What goes wrong there goes wrong for whoever waits for it, so that what is
// wrong with one rig ends one request and nothing else.
package parallel

// Do starts work. wait returns when it is done, and passes a panic of it on; it is to be called once.
func Do(work func()) (wait func()) {
	done := make(chan any, 1)
	go func() {
		defer func() { done <- recover() }()
		work()
	}()
	return func() {
		if wrong := <-done; wrong != nil {
			panic(wrong)
		}
	}
}
