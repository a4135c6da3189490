package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/netip"
	"os"
	"os/exec"
	"os/signal"
	"path/filepath"
	"runtime/debug"
	"sync"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"orpine/cmd/wiring"
	"orpine/internal/account"
	"orpine/internal/demo"
	"orpine/internal/gauge"
	"orpine/internal/lan"
	"orpine/internal/ledger"
	"orpine/internal/overview"
	"orpine/internal/photo"
	"orpine/internal/practice"
	"orpine/internal/store"
	"orpine/internal/supplier"
	"orpine/internal/supplier/simulated"
	accountsheet "orpine/internal/web/account"
	"orpine/internal/web/ui"
)

const defaultAddr = "127.0.0.1:8080"

// heapGoal is the memory towards which more is collected, on a laptop that has other things to do.
const heapGoal = 160 << 20

func serveCommand() *cobra.Command {
	var o serving
	cmd := &cobra.Command{
		Use: "serve --data DIR", Short: "Start a workshop that keeps its data in DIR", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error { return o.serve(cmd) },
	}
	cmd.Flags().BoolVar(&o.lan, "lan", false, "let phones of the shop's network in, over TLS; people sign in (docs/hosting.md)")
	cmd.Flags().StringSliceVar(&o.proxies, "proxy", nil, "ADDRESS or ADDRESS/BITS of a reverse proxy: whom it forwards for counts where wrong passwords slow an address")
	cmd.Flags().StringVar(&o.copies, "copies", "", "directory in which a verified copy is made each night, best on another disk")
	cmd.Flags().StringVar(&o.lanAddr, "lan-addr", ":8443", "HOST:PORT that phones dial; no HOST: every address of this machine")
	cmd.Flags().StringVar(&o.from, "supplier", "", "NAME=http://127.0.0.1:PORT of a supplier that is asked over the wire (docs/supplier.md)")
	cmd.Flags().StringVar(&o.addr, "addr", defaultAddr, "HOST:PORT to listen on, this machine only")
	cmd.Flags().StringVar(&o.dir, "data", "", "directory of the workshop's data, made if it is missing")
	cobra.CheckErr(cmd.MarkFlagRequired("data"))
	return cmd
}

func demoCommand() *cobra.Command {
	var addr, dir string
	cmd := &cobra.Command{
		Use: "demo", Short: "Start the demo workshop, anew each time", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			dir, clean, err := demoPlace(dir)
			if err != nil {
				return err
			}
			defer clean()
			counter, err := listen(cmd.Context(), "127.0.0.1:0")
			if err != nil {
				return err
			}
			server := &http.Server{Handler: simulated.Supplier{Seed: demo.Seed}.Handler(), ReadHeaderTimeout: 10 * time.Second}
			go func() { _ = server.Serve(counter) }() // it ends with the program
			defer server.Close()
			return serving{addr: addr, dir: dir, from: demo.Supplier + "=http://" + counter.Addr().String(), fill: fillDemo}.serve(cmd)
		},
	}
	cmd.Flags().StringVar(&addr, "addr", defaultAddr, "HOST:PORT to listen on, this machine only")
	cmd.Flags().StringVar(&dir, "data", "", "an empty directory to keep the demo in; serve starts it again")
	return cmd
}

// demoPlace is where the demo is kept: a temporary directory that goes with the program, or an
// empty one that stays.
func demoPlace(dir string) (place string, clean func(), err error) {
	if dir == "" {
		dir, err = os.MkdirTemp("", "orpine-demo-")
		if err != nil {
			return "", nil, fmt.Errorf("making a place for the demo: %w", err)
		}
		return dir, func() { os.RemoveAll(dir) }, nil
	}
	entries, err := os.ReadDir(dir)
	if err != nil && !errors.Is(err, os.ErrNotExist) {
		return "", nil, fmt.Errorf("looking for a place for the demo: %w", err)
	}
	if len(entries) > 0 {
		return "", nil, fmt.Errorf("%s is not empty, and the demo begins anew; start what is there with orpine serve --data %s", dir, dir)
	}
	return dir, func() {}, nil
}

// fillDemo fills an empty store with the demo, on a clock of its own.
func fillDemo(ctx context.Context, s *store.Store, from *supplier.Client) error {
	clock := new(demo.Clock)
	w, err := wiring.Open(ctx, s, clock.Now, time.Local)
	if err != nil {
		return err
	}
	w.Supplier = from
	return demo.Fill(ctx, w, clock, time.Now())
}

func supplierCommand() *cobra.Command {
	var addr string
	var seed uint64
	cmd := &cobra.Command{
		Use: "supplier", Short: "Play a supplier that quotes, confirms, delays and now and then sends the wrong hand", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			ctx, stop := signal.NotifyContext(cmd.Context(), os.Interrupt, syscall.SIGTERM)
			defer stop()
			listener, err := listen(ctx, addr)
			if err != nil {
				return err
			}
			fmt.Fprintf(cmd.OutOrStdout(), "A supplier is at http://%s — Ctrl-C stops it.\n", listener.Addr())
			server := &http.Server{Handler: simulated.Supplier{Seed: seed}.Handler(), ReadHeaderTimeout: 10 * time.Second}
			go func() { <-ctx.Done(); _ = server.Close() }()
			if err := server.Serve(listener); !errors.Is(err, http.ErrServerClosed) {
				return err
			}
			return nil
		},
	}
	cmd.Flags().StringVar(&addr, "listen", "127.0.0.1:8090", "HOST:PORT to listen on, this machine only")
	cmd.Flags().Uint64Var(&seed, "seed", 1, "what happens to orders follows from it")
	return cmd
}

// serving is a workshop that answers.
type serving struct {
	addr, dir, from string
	fill            func(context.Context, *store.Store, *supplier.Client) error // fills it first; nil for one that is as it is
	lan             bool
	lanAddr         string
	copies          string           // directory of copies; "" for none
	proxies         []string         // addresses of trusted proxies
	ready           func(url string) // is told where it answers; nil for nobody
}

// trusted are the addresses of --proxy.
func (o serving) trusted() (out []netip.Prefix, err error) {
	for _, text := range o.proxies {
		p, err := netip.ParsePrefix(text)
		if addr, wrong := netip.ParseAddr(text); err != nil && wrong == nil {
			p, err = netip.PrefixFrom(addr, addr.BitLen()), nil
		}
		if err != nil {
			return nil, fmt.Errorf("--proxy %s: an address is wanted, as 10.0.0.1 or 10.0.0.0/8", text)
		}
		out = append(out, p)
	}
	return out, nil
}

// serve opens the workshop and answers until it is interrupted.
func (o serving) serve(cmd *cobra.Command) (err error) {
	var asked *supplier.Client
	if o.from != "" {
		if asked, err = supplier.New(o.from); err != nil {
			return err
		}
	}
	ctx, stop := signal.NotifyContext(cmd.Context(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	listener, err := listen(ctx, o.addr)
	if err != nil {
		return err
	}
	defer listener.Close()
	release, err := store.Own(o.dir, "orpine at http://"+listener.Addr().String())
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, release()) }()
	s, err := store.Open(ctx, o.dir)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	if o.fill != nil {
		if err := o.fill(ctx, s, asked); err != nil {
			return err
		}
	}
	w, err := wiring.Open(ctx, s, time.Now, time.Local)
	if err != nil {
		return err
	}
	w.Supplier = asked
	log := slog.New(slog.NewTextHandler(cmd.ErrOrStderr(), nil))
	var damage *ledger.Damage
	if err := w.Ledger.CheckStart(ctx); errors.As(err, &damage) { // what is there can still be read
		log.Error("the workshop is damaged: nothing is written", "error", damage)
		w.Ledger.Halt(damage)
	} else if err != nil {
		return err
	}
	var kept sync.WaitGroup
	keeping, rest := context.WithCancel(ctx)
	kept.Go(func() { w.Keeper.Keep(keeping, o.copies, log) })
	defer func() { rest(); kept.Wait() }() // before the file is closed
	if self, err := os.Executable(); err == nil {
		photo.Child = func(ctx context.Context) *exec.Cmd { return exec.CommandContext(ctx, self, "develop") }
	}
	if o.fill != nil {
		if err := play(ctx, w); err != nil {
			return err
		}
	}
	look, trainer := &looking{log: log}, &practising{log: log, dir: o.dir}
	defer func() { err = errors.Join(err, look.close(), trainer.close()) }()
	access, err := account.OpenAccess(ctx, o.dir, time.Now)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, access.Close()) }()
	door, err := accountsheet.NewDoor(account.New(w.Ledger, access))
	if err != nil {
		return err
	}
	defer door.Close()
	if door.Proxies, err = o.trusted(); err != nil {
		return err
	}
	outer, err := o.network(ctx, cmd, door)
	if err != nil {
		return err
	}
	if o.ready != nil {
		o.ready("http://" + listener.Addr().String()) // the port is open: who asks now waits until it is answered
	}
	return answer(ctx, cmd, listener, outer, w, door, look, trainer)
}

// practising is the trainer's workshop, opened when someone first practises; it is kept in a file
// of its own beside the shop's.
type practising struct {
	log     *slog.Logger
	dir     string
	once    sync.Once
	store   *store.Store
	gauges  *gauge.Desk
	handler http.Handler
	err     error
}

func (p *practising) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	p.once.Do(func() { p.err = p.open(context.WithoutCancel(r.Context())) })
	if p.err != nil {
		p.log.Error("opening the trainer", "error", p.err)
		http.Error(w, "The trainer could not be opened: "+practice.FileName+" is damaged or cannot be written. Your own shop is as it was; take that file away to practise anew.", http.StatusInternalServerError)
		return
	}
	p.handler.ServeHTTP(w, r)
}

func (p *practising) open(ctx context.Context) (err error) {
	if p.store, err = store.OpenNamed(ctx, p.dir, practice.FileName); err != nil {
		return err
	}
	w, err := wiring.Open(ctx, p.store, time.Now, time.Local)
	if err != nil {
		return err
	}
	p.gauges = w.Gauges
	p.handler, err = wiring.Trainer(ctx, w, p.log, build)
	return err
}

// let stops the instruments, so that pages that watch them let go.
func (p *practising) let() {
	if p.gauges != nil {
		p.gauges.Close()
	}
}

func (p *practising) close() error {
	p.let()
	if p.store == nil {
		return nil
	}
	return p.store.Close()
}

// looking is the demo workshop beside a builder's own, made when someone first looks round
// in it and thrown away with the program.
type looking struct {
	log     *slog.Logger
	once    sync.Once
	dir     string
	store   *store.Store
	gauges  *gauge.Desk
	handler http.Handler
	err     error
}

func (l *looking) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	l.once.Do(func() { l.err = l.open(context.WithoutCancel(r.Context())) })
	if l.err != nil {
		l.log.Error("making the shop to look round in", "error", l.err)
		http.Error(w, "The shop to look round in could not be made. Your own is as it was.", http.StatusInternalServerError)
		return
	}
	l.handler.ServeHTTP(w, r)
}

func (l *looking) open(ctx context.Context) (err error) {
	if l.dir, err = os.MkdirTemp("", "orpine-look-"); err != nil {
		return err
	}
	if l.store, err = store.Open(ctx, l.dir); err != nil {
		return err
	}
	if err = fillDemo(ctx, l.store, nil); err != nil {
		return err
	}
	w, err := wiring.Open(ctx, l.store, time.Now, time.Local)
	if err != nil {
		return err
	}
	l.gauges = w.Gauges
	l.handler, err = wiring.Handler(w, l.log, build, ui.LookAt)
	return err
}

// let lets go of pages that watch what others do.
func (l *looking) let() {
	if l.gauges != nil {
		l.gauges.Close()
	}
}

func (l *looking) close() error {
	if l.store == nil {
		return nil
	}
	return errors.Join(l.store.Close(), os.RemoveAll(l.dir))
}

// beside answers what lies under prefixes by other handlers, and all else by one's own.
func beside(own http.Handler, others map[string]http.Handler) http.Handler {
	mux := http.NewServeMux()
	mux.Handle("/", own)
	for prefix, other := range others {
		mux.Handle(prefix+"/", other)
	}
	return mux
}

// listen opens a port of this machine, for which no TLS is needed.
func listen(ctx context.Context, addr string) (net.Listener, error) {
	host, _, err := net.SplitHostPort(addr)
	if err != nil {
		return nil, fmt.Errorf("--addr %s: HOST:PORT is wanted, as in --addr %s", addr, defaultAddr)
	}
	if ip := net.ParseIP(host); host != "localhost" && (ip == nil || !ip.IsLoopback()) {
		return nil, fmt.Errorf("--addr %s: without TLS Orpine listens only on this machine (127.0.0.1, ::1 or localhost); --lan lets phones in", addr)
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

// network opens the port that phones dial, and says how they get in; nil where none may.
func (o serving) network(ctx context.Context, cmd *cobra.Command, door *accountsheet.Door) (net.Listener, error) {
	if !o.lan {
		return nil, nil
	}
	authority, err := lan.Open(filepath.Join(o.dir, "lan"), time.Now)
	if err != nil {
		return nil, err
	}
	listener, err := new(net.ListenConfig).Listen(ctx, "tcp", o.lanAddr)
	if err != nil {
		return nil, fmt.Errorf("--lan-addr %s: %w", o.lanAddr, err)
	}
	door.Authority, door.At = authority, netip.MustParseAddrPort(listener.Addr().String())
	return listener, o.invite(ctx, cmd, door)
}

// invite says on the console how the first builder gets in.
func (o serving) invite(ctx context.Context, cmd *cobra.Command, door *accountsheet.Door) error {
	for _, origin := range door.Origins() {
		fmt.Fprintf(cmd.OutOrStdout(), "Phones reach it at %s\n", origin)
	}
	fmt.Fprintf(cmd.OutOrStdout(), "The shop's certificate has the fingerprint (SHA-256)\n  %s\n", door.Authority.Fingerprint())
	empty, err := door.Empty(ctx)
	if err != nil || !empty {
		return err
	}
	code, err := door.Code(ctx, "")
	if err == nil {
		fmt.Fprintf(cmd.OutOrStdout(), "Nobody is named yet. The first builder's code is %s %s, once, for %s.\n", code[:4], code[4:], account.CodeLasts)
	}
	return err
}

// server answers like all of ours do: nobody holds it up for long.
func server(h http.Handler, log *slog.Logger) *http.Server {
	return &http.Server{Handler: h, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: 60 * time.Second, WriteTimeout: 60 * time.Second, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 64 << 10, ErrorLog: slog.NewLogLogger(log.Handler(), slog.LevelDebug)}
}

// answer serves until the context ends, then lets requests in hand finish.
func answer(ctx context.Context, cmd *cobra.Command, listener, outer net.Listener, w *overview.Workshop, door *accountsheet.Door, look *looking, trainer *practising) error {
	log := slog.New(slog.NewTextHandler(cmd.ErrOrStderr(), nil))
	handler, err := wiring.HandlerBeside(w, log, build, wiring.Beside{Trainer: true, Door: door})
	if err != nil {
		return err
	}
	debug.SetGCPercent(400) // a page makes much that is dropped at once, and little stays
	debug.SetMemoryLimit(heapGoal)
	fmt.Fprintf(cmd.OutOrStdout(), "Orpine is at http://%s — Ctrl-C stops it.\n", listener.Addr())
	all := door.Handler(beside(handler, map[string]http.Handler{ui.LookAt: look, ui.PracticeAt: trainer}))
	servers := []*http.Server{server(all, log)}
	if outer != nil {
		s := server(door.FromNetwork(all), log)
		s.TLSConfig = door.Authority.Config()
		servers = append(servers, s)
	}
	servers[0].RegisterOnShutdown(trainer.let)
	servers[0].RegisterOnShutdown(look.let)
	servers[0].RegisterOnShutdown(w.Gauges.Close) // pages that watch an instrument let go
	stopped := make(chan error, 1)
	go func() {
		<-ctx.Done()
		grace, cancel := context.WithTimeout(context.Background(), 5*time.Second)
		defer cancel()
		var all []error
		for _, s := range servers {
			all = append(all, s.Shutdown(grace))
		}
		stopped <- errors.Join(all...)
	}()
	if outer != nil {
		go func() { _ = servers[1].ServeTLS(outer, "", "") }() // it ends with the other
	}
	if err := servers[0].Serve(listener); !errors.Is(err, http.ErrServerClosed) {
		return err
	}
	return <-stopped
}

// codeCommand gives a code at the laptop itself: who stands there may let themselves in again.
func codeCommand() *cobra.Command {
	var data string
	cmd := &cobra.Command{
		Use: "code NAME --data DIR", Short: "Give a code by which someone of the shop signs in anew", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) (err error) {
			ctx := cmd.Context()
			s, err := store.Borrow(ctx, data)
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, s.Close()) }()
			w, err := wiring.Open(ctx, s, time.Now, time.Local)
			if err != nil {
				return err
			}
			access, err := account.OpenAccess(ctx, data, time.Now)
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, access.Close()) }()
			a := account.New(w.Ledger, access)
			who, err := a.Named(ctx, args[0])
			if errors.Is(err, ledger.ErrNotFound) {
				return fmt.Errorf("nobody of this shop is called %q", args[0])
			}
			if err != nil {
				return err
			}
			code, err := a.Code(ctx, who.ID)
			if err == nil {
				fmt.Fprintf(cmd.OutOrStdout(), "%s %s lets %s in, once, for %s.\n", code[:4], code[4:], who.Name, account.CodeLasts)
			}
			return err
		},
	}
	cmd.Flags().StringVar(&data, "data", "", "directory of the workshop's data")
	cobra.CheckErr(cmd.MarkFlagRequired("data"))
	return cmd
}
