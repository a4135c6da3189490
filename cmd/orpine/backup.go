package main

import (
	"errors"
	"fmt"
	"io"
	"os"
	"time"

	"github.com/spf13/cobra"

	"orpine/cmd/wiring"
	"orpine/internal/ledger"
	"orpine/internal/photo"
	"orpine/internal/store"
)

func backupCommand() *cobra.Command {
	var data, to string
	cmd := &cobra.Command{
		Use: "backup --data DIR --to DIR", Short: "Copy a workshop, photos and all, while it may be in use", Args: cobra.NoArgs,
		Long: "Backup writes the workshop as it is at one moment into one file, orpine-YEAR-MONTH-DAY-TIME.db, while a\n" +
			"server may go on writing; then it replays the copy's journal. A copy that does not hold gets no name.\n" +
			"Passwords and the certificate (access.db, lan) are not in it: copy those by hand if you want to.",
		RunE: func(cmd *cobra.Command, _ []string) (err error) {
			s, err := store.Inspect(cmd.Context(), data)
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, s.Close()) }()
			c, err := ledger.Copy(cmd.Context(), s, to, time.Now(), wiring.Capabilities(wiring.Parts)...)
			if err != nil {
				return err
			}
			fmt.Fprintf(cmd.OutOrStdout(), "%s holds %d entries; the last is %d:%s\n", c.Path, c.Report.Entries, c.Report.Entries, c.Report.Hash)
			return nil
		},
	}
	cmd.Flags().StringVar(&data, "data", "", "directory of the workshop's data")
	cmd.Flags().StringVar(&to, "to", "", "directory of copies, best on another disk")
	cobra.CheckErr(errors.Join(cmd.MarkFlagRequired("data"), cmd.MarkFlagRequired("to")))
	return cmd
}

func restoreCommand() *cobra.Command {
	var data string
	cmd := &cobra.Command{
		Use: "restore FILE --data DIR", Short: "Put a copy into an empty data directory, once it holds", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			report, err := ledger.Restore(cmd.Context(), args[0], data, wiring.Capabilities(wiring.Parts)...)
			if err != nil {
				return err
			}
			fmt.Fprintf(cmd.OutOrStdout(), "%s holds %d entries; the last is %d:%s. Compare it with what you kept on paper.\n", data, report.Entries, report.Entries, report.Hash)
			return nil
		},
	}
	cmd.Flags().StringVar(&data, "data", "", "directory of the workshop's data, without a workshop")
	cobra.CheckErr(cmd.MarkFlagRequired("data"))
	return cmd
}

// developCommand develops one picture in a process of its own, so that one that takes all memory, or
// for ever, ends that and nothing else.
func developCommand() *cobra.Command {
	return &cobra.Command{
		Use: "develop", Hidden: true, Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			if err := photo.Confine(); err != nil {
				return err
			}
			data, err := io.ReadAll(io.LimitReader(os.Stdin, photo.MaxBytes+1))
			if err != nil {
				return err
			}
			return photo.Answer(os.Stdout, data)
		},
	}
}
