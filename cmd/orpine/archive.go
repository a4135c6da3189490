package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/spf13/cobra"

	"orpine/cmd/wiring"
	"orpine/internal/archive"
	"orpine/internal/ledger"
	"orpine/internal/overview"
	"orpine/internal/store"
)

func exportCommand() *cobra.Command {
	var data, out string
	cmd := &cobra.Command{
		Use: "export --data DIR -o FILE [AIRCRAFT]", Short: "Write the workshop, or one aircraft with its instruments, as an archive", Args: cobra.ArbitraryArgs,
		Long: "Export writes a zip of the journal, of CSV for a spreadsheet and of the photos (docs/archive.md), beside a\n" +
			"server that runs. AIRCRAFT is its name, or the last part of its address in the browser. -o - writes to\nstandard output.",
		RunE: func(cmd *cobra.Command, args []string) error {
			return export(cmd, data, out, strings.Join(args, " "))
		},
	}
	cmd.Flags().StringVar(&data, "data", "", "directory of the workshop's data")
	cmd.Flags().StringVarP(&out, "output", "o", "", "file to write")
	cobra.CheckErr(cmd.MarkFlagRequired("data"))
	cobra.CheckErr(cmd.MarkFlagRequired("output"))
	return cmd
}

func export(cmd *cobra.Command, data, out, aircraft string) error {
	return inspect(cmd.Context(), data, func(w *overview.Workshop) error {
		id, err := aircraftOf(cmd.Context(), w, aircraft)
		if err != nil {
			return err
		}
		if out == "-" {
			_, err := archive.Write(cmd.Context(), w.Ledger, id, cmd.OutOrStdout())
			return err
		}
		m, err := writeWhole(out, func(to io.Writer) (archive.Manifest, error) { return archive.Write(cmd.Context(), w.Ledger, id, to) })
		if err != nil {
			return err
		}
		fmt.Fprintf(cmd.OutOrStdout(), "%s: %d entries, up to %d:%s\n", out, m.Entries, m.Last.Seq, m.Last.Hash)
		for _, a := range m.Aircraft {
			fmt.Fprintf(cmd.OutOrStdout(), "  %s\n", a.Name)
		}
		return nil
	})
}

// aircraftOf is the id of an aircraft by its name or id; "" for none.
func aircraftOf(ctx context.Context, w *overview.Workshop, named string) (string, error) {
	if named == "" {
		return "", nil
	}
	list, err := w.Airframes.List(ctx)
	if err != nil {
		return "", err
	}
	var names []string
	for _, a := range list {
		if a.ID == named || strings.EqualFold(a.Name, named) {
			return a.ID, nil
		}
		names = append(names, a.Name)
	}
	return "", fmt.Errorf("there is no aircraft “%s” here; there is %s", named, strings.Join(names, ", "))
}

// writeWhole writes a file whole or not at all.
func writeWhole(name string, write func(to io.Writer) (archive.Manifest, error)) (m archive.Manifest, err error) {
	temporary, err := os.CreateTemp(filepath.Dir(name), ".orpine-*")
	if err != nil {
		return m, fmt.Errorf("writing the archive: %w", err)
	}
	defer os.Remove(temporary.Name())
	m, err = write(temporary)
	if err := errors.Join(err, temporary.Sync(), temporary.Close()); err != nil {
		return m, err
	}
	if err := os.Chmod(temporary.Name(), 0o644); err != nil {
		return m, err
	}
	return m, os.Rename(temporary.Name(), name)
}

func importCommand() *cobra.Command {
	var data, by string
	var dry bool
	cmd := &cobra.Command{
		Use: "import --data DIR FILE", Short: "Take an archive into a workshop, whole or not at all", Args: cobra.ExactArgs(1),
		Long: "Import looks an archive through, says what would come of it, and takes it. A whole workshop goes into an\n" +
			"empty directory and keeps its numbers and hashes; an aircraft comes behind what is there. The same archive\n" +
			"once more changes nothing. Where a server runs on DIR, use its Files sheet.",
		RunE: func(cmd *cobra.Command, args []string) error { return importArchive(cmd, data, args[0], by, dry) },
	}
	cmd.Flags().StringVar(&data, "data", "", "directory of the workshop's data, made if it is missing")
	cmd.Flags().StringVar(&by, "by", "builder", "who takes it in")
	cmd.Flags().BoolVar(&dry, "dry-run", false, "only say what would come of it")
	cobra.CheckErr(cmd.MarkFlagRequired("data"))
	return cmd
}

func importArchive(cmd *cobra.Command, data, name, by string, dry bool) (err error) {
	file, err := os.Open(name)
	if err != nil {
		return err
	}
	defer file.Close()
	info, err := file.Stat()
	if err != nil {
		return err
	}
	a, err := archive.Open(file, info.Size())
	if err != nil {
		return fmt.Errorf("%s: %w", name, err)
	}
	if dry {
		if _, err := os.Stat(filepath.Join(data, store.FileName)); err != nil {
			scratch, err := os.MkdirTemp("", "orpine-import-")
			if err != nil {
				return err
			}
			defer os.RemoveAll(scratch)
			data = scratch
		} else {
			return inspect(cmd.Context(), data, func(w *overview.Workshop) error {
				c, err := archive.Look(cmd.Context(), w.Ledger, a)
				return errors.Join(err, tell(cmd.OutOrStdout(), c))
			})
		}
	}
	release, err := store.Own(data, "orpine import")
	var owned *store.Owned
	if errors.As(err, &owned) {
		return fmt.Errorf("%w. Or take the archive in on the Files sheet of the server that runs", err)
	}
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, release()) }()
	s, err := store.Open(cmd.Context(), data)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	w, err := wiring.Open(cmd.Context(), s, time.Now, time.Local)
	if err != nil {
		return err
	}
	c, err := archive.Look(cmd.Context(), w.Ledger, a)
	if err := errors.Join(err, tell(cmd.OutOrStdout(), c)); err != nil || dry {
		return err
	}
	_, err = archive.Take(cmd.Context(), w.Ledger, a, archive.Taking{Form: ledger.Form{ID: uuid.NewSHA1(uuid.NameSpaceOID, []byte("archive "+a.SHA256)).String()}, By: by, Archive: a.SHA256})
	var wrong ledger.Problems
	if errors.As(err, &wrong) {
		return errors.New(wrong["archive"])
	}
	if err == nil {
		fmt.Fprintln(cmd.OutOrStdout(), "It is in.")
	}
	return err
}

// tell says what would come of an archive; the error is why nothing would.
func tell(to io.Writer, c archive.Coming) error {
	var names []string
	for _, a := range c.Aircraft {
		names = append(names, a.Name)
	}
	fmt.Fprintf(to, "Archive of %s: %s\n%d entries are new, %d are here already; %d pictures.\n", c.Scope, strings.Join(names, ", "), c.New, c.Here, c.Photos)
	for _, k := range c.Kinds {
		fmt.Fprintf(to, "  %6d  %s\n", k.N, k.Name)
	}
	for _, r := range c.Renamed {
		fmt.Fprintf(to, "“%s” would be called “%s” here: the name is taken.\n", r.Was, r.Now)
	}
	for _, i := range c.Went {
		fmt.Fprintf(to, "%s was proven here meanwhile; the proofs that come would count as the later ones.\n", i)
	}
	if c.Refused != "" {
		return errors.New(c.Refused)
	}
	return nil
}
