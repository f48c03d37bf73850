package main

import (
	"bufio"
	"context"
	"fmt"
	"net"
	"os"
	"os/signal"
	"strings"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"vindel/link"
)

const defaultMachine = "127.0.0.1:7070"

func machineCommand() *cobra.Command {
	var addr string
	var faults []string
	var pace time.Duration
	var byHand bool
	cmd := &cobra.Command{Use: "machine [--fault KIND@PASS …]",
		Short: "Start the simulated machine, which Vindel talks to over the line protocol", Args: cobra.ArbitraryArgs}
	cmd.RunE = func(c *cobra.Command, more []string) error {
		m := &link.Machine{Pace: pace, Hands: !byHand, Faults: map[int]link.Fault{}, Log: func(format string,
			a ...any) {
			fmt.Fprintf(c.OutOrStdout(), format+"\n", a...)
		}}
		for _, text := range append(faults, more...) { // all behind one flag, too
			f, at, err := link.ParseFault(text)
			if err != nil {
				return fmt.Errorf("--fault: %w", err)
			}
			m.Faults[at] = f
		}
		host, _, err := net.SplitHostPort(addr)
		if err != nil {
			return fmt.Errorf("--addr: %w", err)
		}
		if ip := net.ParseIP(host); host != "localhost" && (ip == nil || !ip.IsLoopback()) {
			return fmt.Errorf("--addr: %q: the simulated machine answers on this computer only, as 127.0.0.1:7070",
				addr)
		}
		l, err := net.Listen("tcp", addr)
		if err != nil {
			return fmt.Errorf("--addr: %s: %w; try another port, as --addr 127.0.0.1:0", addr, err)
		}
		ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
		defer stop()
		if byHand {
			go func() {
				for sc := bufio.NewScanner(c.InOrStdin()); sc.Scan(); {
					if err := m.Type(sc.Text()); err != nil {
						fmt.Fprintln(c.ErrOrStderr(), err)
					}
				}
			}()
		}
		fmt.Fprintf(c.OutOrStdout(),
			"The simulated machine is at %s. Connect it on the page beside the machine. Ctrl+C stops it.\n", l.Addr())
		return m.Serve(ctx, l)
	}
	cmd.Flags().StringVar(&addr, "addr", defaultMachine, "where it listens, on this computer")
	names := make([]string, len(link.Faults))
	for i, f := range link.Faults {
		names[i] = string(f)
	}
	cmd.Flags().StringSliceVar(&faults, "fault", nil, "what goes wrong, and at which pass: "+strings.Join(names,
		", ")+"; as miss@40 drop@60")
	cmd.Flags().BoolVar(&byHand, "by-hand", false,
		"you are its hands, and type what the page says: ravel 1, bring knit left, forward L3,L5-L7, line 2 12, "+
			"counter 40")
	cmd.Flags().DurationVar(&pace, "pace", 1500*time.Millisecond, "how long a pass takes")
	return cmd
}
