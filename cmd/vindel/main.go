// Command vindel plans machine-knitted pieces and stands beside the machine.
package main

import (
	"errors"
	"fmt"
	"io"
	"os"
	"runtime/debug"
	"strings"

	"github.com/spf13/cobra"

	"vindel/knit/check"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/technique"
)

// errStopped ends with exit 1: the output is there, and a finding stops the plan.
var errStopped = errors.New("a finding stops the plan")

func main() {
	os.Exit(run(os.Args[1:], os.Stdin, os.Stdout, os.Stderr))
}

// run is main without the process: 0 done, 1 a finding stops the plan, 2 bad input.
func run(args []string, stdin io.Reader, stdout, stderr io.Writer) int {
	root := &cobra.Command{Use: "vindel", Short: "The planning desk and machine-side companion of a machine knitter",
		SilenceUsage: true, SilenceErrors: true, Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error { return c.Help() }}
	root.Version = version()
	root.SetVersionTemplate("vindel {{.Version}}\n")
	root.AddCommand(planCommand(), reportCommand(), checkCommand(), fabricCommand(), cardCommand(), programCommand(),
		measureCommand(), stripCommand(), sheetCommand(), convertCommand(),
		serveCommand(), demoCommand(), machineCommand(), backupCommand(), restoreCommand())
	root.SetArgs(args)
	root.SetIn(stdin)
	root.SetOut(stdout)
	root.SetErr(stderr)
	switch err := root.Execute(); {
	case err == nil:
		return 0
	case errors.Is(err, errStopped):
		return 1
	default:
		fmt.Fprintln(stderr, strings.ReplaceAll(err.Error(), "\n", " "))
		return 2
	}
}

// version names this build: its tag or its commit, as the Go tools have noted them.
func version() string {
	info, ok := debug.ReadBuildInfo()
	if !ok {
		return "of an unknown build"
	}
	text := info.Main.Version
	for _, s := range info.Settings {
		if s.Key == "vcs.time" {
			text += " of " + s.Value
		}
	}
	return text + ", " + info.GoVersion
}

// maxPiece bounds a piece file.
const maxPiece = 64 << 20

// load reads the piece file named, or standard input for "-".
func load(c *cobra.Command, name string) (*piece.Piece, error) {
	data, err := read(c, name)
	if err != nil {
		return nil, err
	}
	p, err := technique.Read(data)
	var list piece.ErrorList
	if errors.As(err, &list) {
		return nil, list[0]
	}
	return p, err
}

func read(c *cobra.Command, name string) ([]byte, error) {
	in := c.InOrStdin()
	if name != "-" {
		f, err := os.Open(name)
		if err != nil {
			return nil, err
		}
		defer f.Close()
		in = f
	}
	data, err := io.ReadAll(io.LimitReader(in, maxPiece+1))
	if err == nil && len(data) > maxPiece {
		err = fmt.Errorf("%s: larger than %d bytes", name, maxPiece)
	}
	return data, err
}

// pieceCommand is a command that reads one piece, runs the core and prints something.
func pieceCommand(use, short string, formats []string,
	print func(c *cobra.Command, r *check.Result, format string) error) *cobra.Command {
	var format string
	cmd := &cobra.Command{Use: use + " FILE", Short: short, Args: cobra.ExactArgs(1)}
	cmd.RunE = func(c *cobra.Command, args []string) error {
		if len(formats) > 0 && !contains(formats, format) {
			return fmt.Errorf("--format: %q: %s", format, strings.Join(formats, ", "))
		}
		p, err := load(c, args[0])
		if err != nil {
			return err
		}
		r := check.Run(p)
		if r.Plan.Refused != nil { // what only shows when a recipe is run
			return r.Plan.Refused
		}
		if r.Plan.TooLong {
			at := r.Plan.Stopped
			return fmt.Errorf("sections[%d]: row %d: the piece has more than %d passes", at.Section-1, at.Row,
				pass.MaxPasses)
		}
		if err := print(c, r, format); err != nil {
			return err
		}
		if r.Stops() {
			return errStopped
		}
		return nil
	}
	if len(formats) > 0 {
		cmd.Flags().StringVar(&format, "format", formats[0], strings.Join(formats, ", "))
	}
	return cmd
}

func contains(list []string, s string) bool {
	for _, l := range list {
		if l == s {
			return true
		}
	}
	return false
}
