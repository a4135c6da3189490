// Command orpine measures, judges and records what is built before it becomes
// permanent. Without arguments it serves the workshop of this machine's user; orpine help says what else it does.
package main

import (
	"errors"
	"fmt"
	"os"
	"strings"

	"orpine/internal/core/say"

	"github.com/spf13/cobra"
)

// build says which build this is, and date of which day; the Makefile sets them.
var build, date = "unreleased", ""

// exitCode ends the program with a code after everything is said.
type exitCode int

func (e exitCode) Error() string { return fmt.Sprintf("exit %d", int(e)) }

func main() {
	err := root().Execute()
	var code exitCode
	switch {
	case errors.As(err, &code):
		os.Exit(int(code))
	case err != nil:
		fmt.Fprintln(os.Stderr, "orpine:", say.Plain(err.Error()))
		os.Exit(1)
	}
}

func root() *cobra.Command {
	cmd := &cobra.Command{
		Use:           "orpine",
		Short:         "Measuring, judgement and record for people who build aircraft from kits",
		SilenceUsage:  true,
		SilenceErrors: true,
		Version:       build,
		Args:          cobra.NoArgs,
		RunE:          func(cmd *cobra.Command, _ []string) error { return start(cmd) },
	}
	cobra.MousetrapHelpText = "" // a double click is how it is started
	cmd.AddCommand(serveCommand(), codeCommand(), backupCommand(), restoreCommand(), developCommand(), demoCommand(), supplierCommand(), solveCommand(), planCommand(), verifyCommand(), worksheetCommand(), exportCommand(), importCommand(), proveCommand(), boardCommand(), serviceCommand(), instrumentCommand(), partCommand(), &cobra.Command{
		Use: "version", Short: "Say which build this is", Args: cobra.NoArgs,
		Run: func(cmd *cobra.Command, _ []string) {
			fmt.Fprintln(cmd.OutOrStdout(), strings.TrimSpace("orpine "+build+" "+date))
		},
	})
	return cmd
}
