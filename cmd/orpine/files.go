package main

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"orpine/cmd/wiring"
	"orpine/internal/core/plan"
	"orpine/internal/ledger"
	"orpine/internal/overview"
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

func planCommand() *cobra.Command {
	var plays int
	var seed uint64
	c := &cobra.Command{
		Use: "plan FILE|-", Short: "Plan a build and print what can be done when", Args: cobra.ExactArgs(1),
		Long: "Plan reads the order of work (docs/plan.md) from FILE, or from standard input for -, and prints one\n" +
			"JSON document: what can be done now, what is held and by what, the schedule, the orders, the\n" +
			"money and the hours. It exits with 2 when the document is unusable: then it lists every error.\n" +
			"With --band it is played so many times with all that is doubtful of it, and the finish is a band.",
		RunE: func(cmd *cobra.Command, args []string) error {
			band := cmd.Flags().Changed("band")
			if band && (plays < plan.LeastPlays || plays > plan.MostPlays) {
				return fmt.Errorf("--band %d: between %d and %d", plays, plan.LeastPlays, plan.MostPlays)
			}
			data, err := readFile(cmd, args[0])
			p, errs := plan.Plan{}, []plan.Error{}
			if err != nil {
				errs = append(errs, plan.Error{Message: err.Error()})
			} else {
				p, errs = plan.Read(data)
			}
			out := json.NewEncoder(cmd.OutOrStdout())
			out.SetEscapeHTML(false)
			out.SetIndent("", "  ")
			if len(errs) > 0 {
				if err := out.Encode(map[string]any{"errors": errs}); err != nil {
					return err
				}
				return unusable
			}
			answer := p.Solve()
			if band {
				b := p.Band(plan.Way{}, plays, seed, nil)
				answer.Band = &b
			}
			return out.Encode(answer)
		},
	}
	c.Flags().IntVar(&plays, "band", 0, "play the plan so many times, 10 to 10,000, and print when it is finished with 10, 50 and 90 %")
	c.Flags().Uint64Var(&seed, "seed", 1, "with --band: of the random numbers")
	return c
}

func solve(cmd *cobra.Command, name string) error {
	data, err := readFile(cmd, name)
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

// readFile reads one byte more than is taken, so that whoever parses it can tell.
func readFile(cmd *cobra.Command, name string) ([]byte, error) {
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

// verifyCommand replays the journal beside the rows. It writes nothing.
func verifyCommand() *cobra.Command {
	var data, last string
	cmd := &cobra.Command{
		Use: "verify --data DIR", Short: "Check that the record is as it was written", Args: cobra.NoArgs,
		Long: "Verify replays the journal into a scratch database and compares every row of the record with what\n" +
			"comes of it; then it lets SQLite check its file. It writes nothing to DIR, which may lie on something\n" +
			"that cannot be written. It prints the number and hash of the last entry: keep them on paper, and\n" +
			"give them again with --last NUMBER:HASH to notice a journal that was cut short since.",
		RunE: func(cmd *cobra.Command, _ []string) error { return verify(cmd, data, last) },
	}
	cmd.Flags().StringVar(&data, "data", "", "directory of the workshop's data")
	cmd.Flags().StringVar(&last, "last", "", "NUMBER:HASH of an entry, as verify printed it before")
	cobra.CheckErr(cmd.MarkFlagRequired("data"))
	return cmd
}

func verify(cmd *cobra.Command, data, last string) (err error) {
	var seq int64
	var hash string
	if last != "" {
		if n, err := fmt.Sscanf(last, "%d:%s", &seq, &hash); err != nil || n != 2 {
			return fmt.Errorf("--last %s: NUMBER:HASH is wanted, as verify prints it", last)
		}
	}
	s, err := store.Inspect(cmd.Context(), data)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	report, err := wiring.Verify(cmd.Context(), s)
	if err == nil && last != "" {
		err = ledger.Ends(cmd.Context(), s, seq, hash)
	}
	var damage *ledger.Damage
	if errors.As(err, &damage) {
		fmt.Fprintln(cmd.OutOrStdout(), "The record was tampered with or damaged:", damage)
		return exitCode(1)
	}
	if err != nil {
		return err
	}
	fmt.Fprintf(cmd.OutOrStdout(), "All %d entries hold. The last one, to be kept on paper:\n%d:%s\n", report.Entries, report.Entries, report.Hash)
	if report.Older > 0 {
		fmt.Fprintf(cmd.OutOrStdout(), "An older build left this workshop (tables number %d). Nothing is wrong with it: serve brings it up to date when it opens it; make a copy first, with orpine backup.\n", report.Older)
	}
	if len(report.Differs) > 0 {
		fmt.Fprintf(cmd.OutOrStdout(), "What was worked out and kept in %s is not what follows from the record. Nothing rests on it: it is worked out anew when the workshop is opened and verified.\n", strings.Join(report.Differs, ", "))
	}
	return nil
}

func worksheetCommand() *cobra.Command {
	var data string
	cmd := &cobra.Command{
		Use: "worksheet --data DIR SETUP", Short: "Print a setup's readings as a worksheet", Args: cobra.ExactArgs(1),
		Long: "Worksheet prints the readings of a setup that count as a worksheet, ready for solve.\nSETUP is the last part of the setup's address in the browser.",
		RunE: func(cmd *cobra.Command, args []string) error { return printWorksheet(cmd, data, args[0]) },
	}
	cmd.Flags().StringVar(&data, "data", "", "directory of the workshop's data")
	cobra.CheckErr(cmd.MarkFlagRequired("data"))
	return cmd
}

func printWorksheet(cmd *cobra.Command, data, id string) error {
	return inspect(cmd.Context(), data, func(w *overview.Workshop) error {
		setup, err := w.Measuring.Setup(cmd.Context(), id)
		if err != nil {
			return err
		}
		out, err := setup.Worksheet()
		if err == nil {
			fmt.Fprintln(cmd.OutOrStdout(), string(out))
		}
		return err
	})
}

// inspect reads a workshop, beside a server that runs.
func inspect(ctx context.Context, dir string, read func(w *overview.Workshop) error) (err error) {
	s, err := store.Borrow(ctx, dir)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	w, err := wiring.Open(ctx, s, time.Now, time.Local)
	if err != nil {
		return err
	}
	return read(w)
}
