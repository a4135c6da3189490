package main

import (
	"context"
	"fmt"
	"os"
	"os/signal"
	"strings"
	"syscall"

	"github.com/spf13/cobra"

	"orpine/internal/core/sim"
	"orpine/internal/demo"
	"orpine/internal/gauge/simulated"
	"orpine/internal/overview"
)

func instrumentCommand() *cobra.Command {
	var addr, part string
	var seed uint64
	cmd := &cobra.Command{
		Use:   "instrument (level|tape|laser|caliper) --part FILE",
		Short: "Play an instrument that speaks, reading a hidden part", Args: cobra.ExactArgs(1), ValidArgs: sim.Devices,
		Long: "Instrument plays a level, a tape, a laser or a caliper over the protocol of docs/instruments.md: it has a\n" +
			"zero, a drift, a spread and a step, drops out now and then, and is sometimes held the wrong way round.\n" +
			"FILE is a hidden part, as orpine part makes it from a setup.",
		RunE: func(cmd *cobra.Command, args []string) error {
			device, err := sim.NewDevice(args[0], seed)
			if err != nil {
				return err
			}
			data, err := os.ReadFile(part)
			if err != nil {
				return err
			}
			hidden, err := sim.ReadHidden(data)
			if err != nil {
				return fmt.Errorf("%s: %w", part, err)
			}
			ctx, stop := signal.NotifyContext(cmd.Context(), os.Interrupt, syscall.SIGTERM)
			defer stop()
			listener, err := listen(ctx, addr)
			if err != nil {
				return err
			}
			fmt.Fprintf(cmd.OutOrStdout(), "A %s is at %s — Ctrl-C switches it off.\n", args[0], listener.Addr())
			return simulated.Serve(ctx, listener, device, hidden, seed)
		},
	}
	cmd.Flags().StringVar(&addr, "listen", "127.0.0.1:7001", "HOST:PORT to listen on, this machine only")
	cmd.Flags().StringVar(&part, "part", "", "a hidden part")
	cmd.Flags().Uint64Var(&seed, "seed", 1, "its errors follow from it")
	cobra.CheckErr(cmd.MarkFlagRequired("part"))
	return cmd
}

func partCommand() *cobra.Command {
	var data, out string
	var seed uint64
	cmd := &cobra.Command{
		Use: "part --data DIR SETUP", Short: "Draw a hidden part that may lie in a setup, for simulated instruments", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return inspect(cmd.Context(), data, func(w *overview.Workshop) error {
				setup, err := w.Measuring.Setup(cmd.Context(), args[0])
				if err != nil {
					return err
				}
				_, file, err := sim.NewHidden(setup.Title(), setup.Hidden(seed))
				if err != nil {
					return err
				}
				if out == "-" {
					_, err = cmd.OutOrStdout().Write(file)
					return err
				}
				return os.WriteFile(out, file, 0o644)
			})
		},
	}
	cmd.Flags().StringVar(&data, "data", "", "directory of the workshop's data")
	cmd.Flags().StringVarP(&out, "output", "o", "-", "file to write")
	cmd.Flags().Uint64Var(&seed, "seed", 1, "the part follows from it")
	cobra.CheckErr(cmd.MarkFlagRequired("data"))
	return cmd
}

// play runs simulated instruments beside the demo, on its tailplane.
func play(ctx context.Context, w *overview.Workshop) error {
	setup, err := w.Measuring.Setup(ctx, demo.ID("tailplane on rails"))
	if err != nil {
		return err
	}
	hidden, _, err := sim.NewHidden(setup.Title(), setup.Hidden(demo.Seed))
	if err != nil {
		return err
	}
	for i, sort := range sim.Devices {
		device, err := sim.NewDevice(sort, demo.Seed+uint64(i))
		if err != nil {
			return err
		}
		listener, err := listen(ctx, "127.0.0.1:0")
		if err != nil {
			return err
		}
		w.Plays = append(w.Plays, overview.Played{Sort: sort, Unit: device.Unit, Address: strings.ToLower(listener.Addr().String())})
		go func() { _ = simulated.Serve(ctx, listener, device, hidden, demo.Seed+uint64(i)) }() // it ends with the program
	}
	return nil
}
