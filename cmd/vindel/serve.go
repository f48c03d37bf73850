package main

import (
	"bufio"
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"path/filepath"
	"runtime/debug"
	"strconv"
	"strings"
	"syscall"
	"time"

	"github.com/spf13/cobra"
	"golang.org/x/net/netutil"

	"vindel/demo"
	"vindel/store"
	"vindel/web"
)

const defaultAddr = "127.0.0.1:8080"

func serveCommand() *cobra.Command {
	var addr, dir string
	var secure bool
	cmd := &cobra.Command{Use: "serve", Short: "Start Vindel with your own data", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error { return serve(c, addr, dir, secure, false) }}
	cmd.Flags().BoolVar(&secure, "tls", false,
		"over TLS, with a certificate that Vindel makes: a tablet in the same house then keeps its screen awake")
	cmd.Flags().StringVar(&addr, "addr", defaultAddr, "where to listen; any address but loopback needs a passphrase")
	cmd.Flags().StringVar(&dir, "data", dataDir("data"), "where the data is kept")
	pass := &cobra.Command{Use: "passphrase",
		Short: "Set the passphrase, read from standard input, that other machines are asked for", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error { return setPassphrase(c, dir) }}
	pass.Flags().StringVar(&dir, "data", dataDir("data"), "where the data is kept")
	cmd.AddCommand(pass)
	return cmd
}

func demoCommand() *cobra.Command {
	var addr, dir string
	var secure bool
	cmd := &cobra.Command{Use: "demo", Short: "Start Vindel with the pieces of Larkmoor, to try it",
		Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error { return serve(c, addr, dir, secure, true) }}
	cmd.Flags().BoolVar(&secure, "tls", false, "over TLS, with a certificate that Vindel makes")
	cmd.Flags().StringVar(&addr, "addr", defaultAddr, "where to listen")
	cmd.Flags().StringVar(&dir, "data", dataDir("demo"), "where the demo's data is kept")
	return cmd
}

// dataDir is the user's own place for Vindel's data.
func dataDir(name string) string {
	base, err := os.UserConfigDir()
	if err != nil {
		base = "."
	}
	return filepath.Join(base, "vindel", name)
}

func openStore(ctx context.Context, dir string) (*store.Store, error) {
	if err := store.MakeFolder(dir); err != nil {
		return nil, err
	}
	return store.Open(ctx, dir)
}

func setPassphrase(c *cobra.Command, dir string) error {
	st, err := openStore(c.Context(), dir)
	if err != nil {
		return err
	}
	defer st.Close()
	text, err := bufio.NewReader(c.InOrStdin()).ReadString('\n')
	if err != nil && text == "" {
		return errors.New("write the passphrase on standard input, on one line")
	}
	return web.SetPassphrase(c.Context(), st, strings.TrimRight(text, "\r\n"))
}

func serve(c *cobra.Command, addr, dir string, secure, withDemo bool) error {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	host, _, err := net.SplitHostPort(addr)
	if err != nil {
		return fmt.Errorf("--addr: %w", err)
	}
	listener, err := net.Listen("tcp", addr) // before anything is opened or changed
	if errors.Is(err, syscall.EADDRINUSE) {
		host, port, _ := net.SplitHostPort(addr)
		n, _ := strconv.Atoi(port)
		return fmt.Errorf("--addr: %s is in use, perhaps by another Vindel; try --addr %s", addr,
			net.JoinHostPort(host, strconv.Itoa(n+1)))
	}
	if err != nil {
		return fmt.Errorf("--addr: %w", err)
	}
	defer listener.Close()
	free, err := store.Lock(dir)
	if err != nil {
		return err
	}
	defer free()
	opts := web.Options{Hosts: []string{"localhost", "127.0.0.1", "::1"}}
	ip := net.ParseIP(host)
	opts.Guard = strings.TrimSuffix(strings.ToLower(host), ".") != "localhost" && (ip == nil || !ip.IsLoopback())
	st, err := openStore(ctx, dir)
	if errors.Is(err, store.ErrDamaged) && !opts.Guard {
		return rescue(ctx, c, dir, listener, opts)
	}
	if err != nil {
		return err
	}
	defer st.Close()
	if _, err := st.Sweep(0); err != nil { // nobody else is at work in the folder
		slog.WarnContext(ctx, "what was left behind is not swept", "error", err)
	}
	if opts.Guard {
		if has, err := web.HasPassphrase(ctx, st); err != nil {
			return err
		} else if !has {
			return fmt.Errorf("--addr: %q: other machines can reach this address; set a passphrase first: vindel "+
				"serve passphrase --data %s", addr, dir)
		}
		if host != "" && (ip == nil || !ip.IsUnspecified()) {
			opts.Hosts = append(opts.Hosts, host)
		} else {
			opts.Hosts = append(opts.Hosts, ownNames()...)
		}
	}
	if withDemo {
		if err := demo.Fill(ctx, st); err != nil {
			return err
		}
	}
	debug.SetMemoryLimit(memoryLimit)
	app, err := web.New(st, opts)
	if err != nil {
		return err
	}
	again := ""
	if withDemo {
		again = " To begin the demo afresh, stop it and delete that folder."
	}
	defer app.Close()
	go app.KeepCopies(ctx)
	about := fmt.Sprintf("The data lie in %s and stay there. Ctrl+C stops it.%s", dir, again)
	scheme := "http"
	if secure {
		scheme = "https"
		cert, fingerprint, err := certificate(dir, opts.Hosts, time.Now())
		if err != nil {
			return fmt.Errorf("--tls: %w", err)
		}
		listener = tls.NewListener(listener, &tls.Config{Certificates: []tls.Certificate{cert},
			MinVersion: tls.VersionTLS12, NextProtos: []string{"h2", "http/1.1"}})
		about += "\nThe browser will say that it does not know this certificate, since nobody but this Vindel " +
			"vouches for it. Compare its SHA-256 fingerprint once, then let the browser trust it:\n" + fingerprint
	}
	return listen(ctx, c, listener, app.Handler(), app.Close, scheme, about)
}

// rescue shows what can be read of a damaged file of data, to those at this machine.
func rescue(ctx context.Context, c *cobra.Command, dir string, listener net.Listener, opts web.Options) error {
	saved, err := store.Rescue(ctx, dir)
	if err != nil {
		return err
	}
	app, err := web.NewRescue(saved, filepath.Join(dir, store.FileName), dir, store.Copies(dir), opts)
	if err != nil {
		return err
	}
	fmt.Fprintf(c.ErrOrStderr(), "vindel: %s: %v\n", dir, store.ErrDamaged)
	return listen(ctx, c, listener, app, func() {}, "http", "Ctrl+C stops it.")
}

// listen says where it serves, and something about that, and serves until it is told to end.
func listen(ctx context.Context, c *cobra.Command, listener net.Listener, app http.Handler, ends func(), scheme,
	about string) error {
	fmt.Fprintf(c.OutOrStdout(), "Vindel is at %s://%s/\n%s\n", scheme, listener.Addr(), about)
	listener = netutil.LimitListener(listener, mostConnections)
	srv := &http.Server{Handler: app, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: time.Minute,
		WriteTimeout: time.Minute, IdleTimeout: 2 * time.Minute}
	srv.RegisterOnShutdown(ends)
	done := make(chan error, 1)
	go func() { done <- srv.Serve(listener) }()
	select {
	case err := <-done:
		return err
	case <-ctx.Done():
	}
	ctx, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	return srv.Shutdown(ctx)
}

// mostConnections is how many connections are open at once: more wait until one is closed.
const mostConnections = 400

// memoryLimit is the memory, in bytes, from which on what is no longer used is given back at
// once: a computer that stands beside a knitting machine is often a small one.
const memoryLimit = 400 << 20

// ownNames are the names and numbers by which this machine can be called.
func ownNames() (names []string) {
	if h, err := os.Hostname(); err == nil {
		names = append(names, h, h+".local")
	}
	addrs, _ := net.InterfaceAddrs()
	for _, a := range addrs {
		if ip, ok := a.(*net.IPNet); ok {
			names = append(names, ip.IP.String())
		}
	}
	return names
}
