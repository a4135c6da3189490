package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"time"

	"github.com/spf13/cobra"

	"orpine/internal/app"
	"orpine/internal/core/journal"
	"orpine/internal/store"
	"orpine/internal/worksheet"
)

// unusable is the exit code for input that cannot be solved.
const unusable exitCode = 2

func solveCommand() *cobra.Command {
	return &cobra.Command{
		Use: "solve FILE|-", Short: "Solve a worksheet and print the results", Args: cobra.ExactArgs(1),
		Long: "Solve reads a worksheet (docs/worksheet.md) from FILE, or from standard input for -, and prints\n" +
			"one JSON document of results. It exits with 0 whatever the verdicts, and with 2 when the\n" +
			"worksheet is unusable: then the document lists every error found.",
		RunE: func(cmd *cobra.Command, args []string) error { return solve(cmd, args[0]) },
	}
}

func solve(cmd *cobra.Command, name string) error {
	data, err := readWorksheet(cmd, name)
	errs := []worksheet.Error{}
	var doc *worksheet.Document
	if err != nil {
		errs = append(errs, worksheet.Error{Message: err.Error()})
	} else {
		doc, errs = worksheet.Parse(data)
	}
	if len(errs) > 0 {
		out, err := worksheet.EncodeErrors(errs)
		if err != nil {
			return err
		}
		fmt.Fprintln(cmd.OutOrStdout(), string(out))
		return unusable
	}
	out, err := worksheet.EncodeResults(doc.Solve())
	if err != nil {
		return fmt.Errorf("writing the results: %w", err)
	}
	fmt.Fprintln(cmd.OutOrStdout(), string(out))
	return nil
}

// readWorksheet reads one byte more than is taken, so that Parse can tell.
func readWorksheet(cmd *cobra.Command, name string) ([]byte, error) {
	in := cmd.InOrStdin()
	if name != "-" {
		file, err := os.Open(name)
		if err != nil {
			return nil, err
		}
		defer file.Close()
		in = file
	}
	return io.ReadAll(io.LimitReader(in, worksheet.MaxBytes+1))
}

// withWorkshop opens the workshop of --data for one use.
func withWorkshop(ctx context.Context, dir string, use func(*app.App) error) (err error) {
	s, err := store.OpenExisting(ctx, dir)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	return use(app.New(s, time.Now))
}

func verifyCommand() *cobra.Command {
	var data string
	cmd := &cobra.Command{
		Use: "verify --data DIR", Short: "Check that the journal is as it was written", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			return withWorkshop(cmd.Context(), data, func(a *app.App) error {
				n, err := a.Verify(cmd.Context())
				var broken *journal.Broken
				if errors.As(err, &broken) {
					fmt.Fprintln(cmd.OutOrStdout(), "The journal was tampered with or damaged:", broken)
					return exitCode(1)
				}
				if err == nil {
					fmt.Fprintf(cmd.OutOrStdout(), "All %d entries hold.\n", n)
				}
				return err
			})
		},
	}
	cmd.Flags().StringVar(&data, "data", "", "directory of the workshop's data")
	cobra.CheckErr(cmd.MarkFlagRequired("data"))
	return cmd
}

func exportCommand() *cobra.Command {
	var data string
	cmd := &cobra.Command{
		Use: "export --data DIR SETUP", Short: "Print a setup's readings as a worksheet", Args: cobra.ExactArgs(1),
		Long: "Export prints the readings of a setup that count as a worksheet, ready for solve.\nSETUP is the last part of the setup's address in the browser.",
		RunE: func(cmd *cobra.Command, args []string) error {
			return withWorkshop(cmd.Context(), data, func(a *app.App) error {
				out, err := a.Export(cmd.Context(), args[0])
				if err == nil {
					fmt.Fprintln(cmd.OutOrStdout(), string(out))
				}
				return err
			})
		},
	}
	cmd.Flags().StringVar(&data, "data", "", "directory of the workshop's data")
	cobra.CheckErr(cmd.MarkFlagRequired("data"))
	return cmd
}
