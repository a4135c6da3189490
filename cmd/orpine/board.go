package main

import (
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
	"orpine/internal/core/section"
	"orpine/internal/paper"
)

// boarding is what the command board was asked for.
type boarding struct {
	section, coordinates, chord, angle, height, format, paper, out string
	sparAt, sparWidth, sparDepth                                   []string
}

func boardCommand() *cobra.Command {
	var b boarding
	cmd := &cobra.Command{
		Use:   "board (--section 4415|--coordinates FILE) --chord LENGTH --angle ANGLE -o FILE",
		Short: "Draw an incidence board for a wing section at 1:1, as DXF, SVG or PDF", Args: cobra.NoArgs,
		Long: "Board draws a board that lies on the upper side of a wing section and has a straight edge, level when\n" +
			"the chord line stands nose up by ANGLE. Lengths and angles are written as on the screens: 1180, 52 in,\n" +
			"4 ft 4 1/2 in; 2.5, 2°30'. Bare lengths are in mm. FILE has one `x y` a line, from one edge of the\n" +
			"section to the other and back (docs/board.md). -o - writes to standard output.",
		RunE: func(cmd *cobra.Command, _ []string) error { return b.draw(cmd) },
	}
	f := cmd.Flags()
	f.StringVar(&b.section, "section", "", "a section of four digits, as 4415")
	f.StringVar(&b.coordinates, "coordinates", "", "a file of coordinates")
	f.StringVar(&b.chord, "chord", "", "chord of the section where the board lies")
	f.StringVar(&b.angle, "angle", "", "incidence that the edge is level at, nose up")
	f.StringVar(&b.height, "height", "20 mm", "of the edge above the highest point of the section")
	f.StringArrayVar(&b.sparAt, "spar-at", nil, "middle of a cut-out, aft of the leading edge; again for another one")
	f.StringArrayVar(&b.sparWidth, "spar-width", nil, "its width")
	f.StringArrayVar(&b.sparDepth, "spar-depth", nil, "how far the board stays clear there")
	f.StringVar(&b.format, "format", "", "dxf, svg or pdf; where it is missing, as FILE is called")
	f.StringVar(&b.paper, "paper", "a4", "of a PDF: a4 or letter")
	f.StringVarP(&b.out, "output", "o", "", "file to write")
	for _, name := range []string{"chord", "angle", "output"} {
		cobra.CheckErr(cmd.MarkFlagRequired(name))
	}
	return cmd
}

func (b boarding) draw(cmd *cobra.Command) error {
	board, err := b.board()
	if err != nil {
		return err
	}
	format := strings.ToLower(b.format)
	if format == "" {
		format = strings.ToLower(strings.TrimPrefix(filepath.Ext(b.out), "."))
	}
	size, err := paper.ParseSize(b.paper)
	if err != nil {
		return fmt.Errorf("--paper: %w", err)
	}
	data, err := paper.Board(board, format, size, say.Reader{}, time.Now())
	if err != nil {
		return err
	}
	if b.out == "-" {
		_, err = cmd.OutOrStdout().Write(data)
		return err
	}
	if err := os.WriteFile(b.out, data, 0o644); err != nil {
		return fmt.Errorf("writing the board: %w", err)
	}
	return nil
}

func (b boarding) board() (out section.Board, err error) {
	if (b.section == "") == (b.coordinates == "") {
		return out, errors.New("either --section or --coordinates is wanted, and not both")
	}
	if b.section != "" {
		if out.Section, err = section.FourDigit(b.section); err != nil {
			return out, fmt.Errorf("--section: %w", err)
		}
	} else if out.Section, err = readSection(b.coordinates); err != nil {
		return out, fmt.Errorf("--coordinates %s: %w", b.coordinates, err)
	}
	length := func(flag, text string) float64 {
		l, e := quantity.ParseLength(text, quantity.Millimetre)
		if e != nil {
			err = errors.Join(err, fmt.Errorf("--%s: %w", flag, e))
		}
		return float64(l)
	}
	out.Chord, out.Height = length("chord", b.chord), length("height", b.height)
	angle, e := quantity.ParseAngle(b.angle, quantity.Pitch)
	if e != nil {
		err = errors.Join(err, fmt.Errorf("--angle: %w", e))
	}
	out.Angle = float64(angle)
	if len(b.sparWidth) != len(b.sparAt) || len(b.sparDepth) != len(b.sparAt) {
		return out, errors.Join(err, errors.New("each --spar-at wants its --spar-width and --spar-depth"))
	}
	for i, at := range b.sparAt {
		out.Notches = append(out.Notches, section.Notch{At: length("spar-at", at), Width: length("spar-width", b.sparWidth[i]), Depth: length("spar-depth", b.sparDepth[i])})
	}
	if err != nil {
		return out, err
	}
	if field, err := out.Validate(); err != nil {
		return out, fmt.Errorf("%s: %w", field, err)
	}
	return out, nil
}

func readSection(name string) (section.Section, error) {
	file, err := os.Open(name)
	if err != nil {
		return section.Section{}, errors.Unwrap(err)
	}
	defer file.Close()
	data, err := io.ReadAll(io.LimitReader(file, section.MaxBytes+1))
	if err != nil {
		return section.Section{}, err
	}
	return section.Coordinates(strings.TrimSuffix(filepath.Base(name), filepath.Ext(name)), data)
}
