package web

import (
	"context"
	"errors"
	"fmt"
	"runtime/debug"
	"sync"
	"time"
)

// errWorking says that what was asked for is being worked out still: ask again.
var errWorking = errors.New("this is still being worked out")

// patience is how long a request waits for what is worked out before it says so. abandoned is
// how long nobody has to ask for it before the work is given up.
const (
	patience  = time.Second
	abandoned = 10 * time.Second
)

// works is what is worked out at the moment: each thing once, however many ask for it, and
// as long as anybody does.
type works struct {
	mu  sync.Mutex
	now map[string]*work
}

type work struct {
	done    chan struct{} // closed when value and err are known
	value   any
	err     error
	cancel  context.CancelFunc
	waiting int         // requests that wait for it
	forget  *time.Timer // runs while none does
}

// do gives what f makes. Where that takes longer than a request should, the error is
// errWorking, and f goes on, so that who asks again soon finds it made. When a request stops
// and nobody else wants it, the work stops. A panic in f is an error.
func (w *works) do(ctx context.Context, wait time.Duration, key string, f func(ctx context.Context) (any,
	error)) (any, error) {
	job := w.join(key, f)
	left := time.NewTimer(wait)
	defer left.Stop()
	select {
	case <-job.done:
		w.leave(key, job, 0)
		return job.value, job.err
	case <-left.C:
		w.leave(key, job, abandoned)
		return nil, errWorking
	case <-ctx.Done():
		w.leave(key, job, 0)
		return nil, ctx.Err()
	}
}

// brokeError is a panic, and where it was.
type brokeError struct {
	broke any
	stack []byte
}

func (e brokeError) Error() string { return fmt.Sprintf("panic: %v\n%s", e.broke, e.stack) }

// join finds the work, or begins it.
func (w *works) join(key string, f func(ctx context.Context) (any, error)) *work {
	w.mu.Lock()
	defer w.mu.Unlock()
	job := w.now[key]
	if job == nil {
		ctx, cancel := context.WithCancel(context.Background())
		job = &work{done: make(chan struct{}), cancel: cancel}
		w.now[key] = job
		go func() {
			defer close(job.done)
			defer func() {
				if broke := recover(); broke != nil {
					job.err = brokeError{broke, debug.Stack()}
				}
			}()
			job.value, job.err = f(ctx)
		}()
	}
	job.waiting++
	if job.forget != nil {
		job.forget.Stop()
	}
	return job
}

// leave ends one request's wait. When none waits any more the work is given up after a while,
// or at once.
func (w *works) leave(key string, job *work, after time.Duration) {
	w.mu.Lock()
	defer w.mu.Unlock()
	if job.waiting--; job.waiting > 0 || w.now[key] != job {
		return
	}
	give := func() {
		job.cancel()
		if w.now[key] == job {
			delete(w.now, key)
		}
	}
	if after == 0 {
		give()
		return
	}
	job.forget = time.AfterFunc(after, func() {
		w.mu.Lock()
		defer w.mu.Unlock()
		if job.waiting == 0 {
			give()
		}
	})
}

// turn lets one do what not all may do at once.
type turn chan struct{}

func (t turn) take(ctx context.Context) error {
	select {
	case t <- struct{}{}:
		return nil
	case <-ctx.Done():
		return ctx.Err()
	}
}

// errBusy says that the turn did not come as soon as an answer should.
var errBusy = errors.New("another picture is being read or drawn just now")

// soon is take for one who waits no longer than for an answer.
func (t turn) soon(ctx context.Context) error {
	wait, stop := context.WithTimeoutCause(ctx, patience, errBusy)
	defer stop()
	if err := t.take(wait); err != nil {
		return context.Cause(wait)
	}
	return nil
}

func (t turn) give() { <-t }
