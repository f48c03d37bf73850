package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"vindel/store"
)

func backupCommand() *cobra.Command {
	var dir string
	cmd := &cobra.Command{Use: "backup OUT", Short: "Write everything into one file, also while Vindel serves",
		Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error { return store.Archive(c.Context(), dir, args[0]) }}
	cmd.Flags().StringVar(&dir, "data", dataDir("data"), "where the data is kept")
	return cmd
}

func restoreCommand() *cobra.Command {
	var dir string
	cmd := &cobra.Command{Use: "restore IN", Short: "Put what a backup holds in the place of the data",
		Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			free, err := store.Lock(dir)
			if err != nil {
				return err
			}
			defer free()
			kept, err := store.Restore(c.Context(), args[0], dir)
			if err == nil && kept != "" {
				fmt.Fprintf(c.OutOrStdout(), "What was there is kept as %s\n", kept)
			}
			return err
		}}
	cmd.Flags().StringVar(&dir, "data", dataDir("data"), "where the data is kept")
	return cmd
}
