package linktest

import (
	"net"
	"sync/atomic"
	"testing"
	"time"
)

// Cable is a way to a machine that can be pulled out: then nothing comes through till it is in again,
// and neither end is told.
func Cable(t testing.TB, machine string) (addr string, out *atomic.Bool) {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { l.Close() })
	out = new(atomic.Bool)
	t.Cleanup(func() { out.Store(false) })
	through := func(from, to net.Conn) {
		defer to.Close()
		for buf := make([]byte, 64<<10); ; {
			n, err := from.Read(buf)
			for out.Load() {
				time.Sleep(10 * time.Millisecond)
			}
			if err == nil {
				_, err = to.Write(buf[:n])
			}
			if err != nil {
				return
			}
		}
	}
	go func() {
		for {
			desk, err := l.Accept()
			if err != nil {
				return
			}
			m, err := net.Dial("tcp", machine)
			if err != nil {
				desk.Close()
				continue
			}
			go through(desk, m)
			go through(m, desk)
		}
	}()
	return l.Addr().String(), out
}
