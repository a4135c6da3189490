package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"runtime/debug"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"orpine/cmd/wiring"
	"orpine/internal/demo"
	"orpine/internal/overview"
	"orpine/internal/store"
)

const defaultAddr = "127.0.0.1:8080"

func serveCommand() *cobra.Command {
	var addr, data string
	cmd := &cobra.Command{
		Use: "serve --data DIR", Short: "Start a workshop that keeps its data in DIR", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error { return serve(cmd, addr, data, nil) },
	}
	cmd.Flags().StringVar(&addr, "addr", defaultAddr, "HOST:PORT to listen on, this machine only")
	cmd.Flags().StringVar(&data, "data", "", "directory of the workshop's data, made if it is missing")
	cobra.CheckErr(cmd.MarkFlagRequired("data"))
	return cmd
}

func demoCommand() *cobra.Command {
	var addr string
	cmd := &cobra.Command{
		Use: "demo", Short: "Start the demo workshop, anew each time", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			dir, err := os.MkdirTemp("", "orpine-demo-")
			if err != nil {
				return fmt.Errorf("making a place for the demo: %w", err)
			}
			defer os.RemoveAll(dir)
			return serve(cmd, addr, dir, fillDemo)
		},
	}
	cmd.Flags().StringVar(&addr, "addr", defaultAddr, "HOST:PORT to listen on, this machine only")
	return cmd
}

// fillDemo fills an empty store with the demo, on a clock of its own.
func fillDemo(ctx context.Context, s *store.Store) error {
	clock := new(demo.Clock)
	w, err := wiring.Open(ctx, s, clock.Now, time.Local)
	if err != nil {
		return err
	}
	return demo.Fill(ctx, w, clock, time.Now())
}

// serve opens the workshop and answers until it is interrupted; fill, where it is not
// nil, fills it first.
func serve(cmd *cobra.Command, addr, dir string, fill func(context.Context, *store.Store) error) (err error) {
	ctx, stop := signal.NotifyContext(cmd.Context(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	listener, err := listen(ctx, addr)
	if err != nil {
		return err
	}
	defer listener.Close()
	release, err := store.Own(dir, "orpine at http://"+listener.Addr().String())
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, release()) }()
	s, err := store.Open(ctx, dir)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	if fill != nil {
		if err := fill(ctx, s); err != nil {
			return err
		}
	}
	w, err := wiring.Open(ctx, s, time.Now, time.Local)
	if err != nil {
		return err
	}
	if err := w.Ledger.CheckStart(ctx); err != nil {
		return err
	}
	return answer(ctx, cmd, listener, w)
}

// listen opens a port of this machine; until there are accounts no other can be
// let in.
func listen(ctx context.Context, addr string) (net.Listener, error) {
	host, _, err := net.SplitHostPort(addr)
	if err != nil {
		return nil, fmt.Errorf("--addr %s: HOST:PORT is wanted, as in --addr %s", addr, defaultAddr)
	}
	if ip := net.ParseIP(host); host != "localhost" && (ip == nil || !ip.IsLoopback()) {
		return nil, fmt.Errorf("--addr %s: there are no accounts yet, so Orpine listens only on this machine (127.0.0.1, ::1 or localhost)", addr)
	}
	listener, err := new(net.ListenConfig).Listen(ctx, "tcp", addr)
	if errors.Is(err, syscall.EADDRINUSE) {
		return nil, fmt.Errorf("%s is taken by another program; choose another port with --addr HOST:PORT", addr)
	}
	if err != nil {
		return nil, fmt.Errorf("--addr %s: %w", addr, err)
	}
	return listener, nil
}

// answer serves until the context ends, then lets requests in hand finish.
func answer(ctx context.Context, cmd *cobra.Command, listener net.Listener, w *overview.Workshop) error {
	handler, err := wiring.Handler(w, slog.New(slog.NewTextHandler(cmd.ErrOrStderr(), nil)), build, "")
	if err != nil {
		return err
	}
	debug.SetGCPercent(400) // a page makes much that is dropped at once, and little stays
	fmt.Fprintf(cmd.OutOrStdout(), "Orpine is at http://%s — Ctrl-C stops it.\n", listener.Addr())
	server := &http.Server{Handler: handler, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: 30 * time.Second, WriteTimeout: 60 * time.Second, IdleTimeout: 2 * time.Minute}
	stopped := make(chan error, 1)
	go func() {
		<-ctx.Done()
		grace, cancel := context.WithTimeout(context.Background(), 5*time.Second)
		defer cancel()
		stopped <- server.Shutdown(grace)
	}()
	if err := server.Serve(listener); !errors.Is(err, http.ErrServerClosed) {
		return err
	}
	return <-stopped
}
