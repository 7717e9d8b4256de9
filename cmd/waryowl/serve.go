package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/netip"
	"os"
	"os/signal"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"time"

	"github.com/spf13/cobra"
	"golang.org/x/sync/errgroup"
	"gorm.io/gorm"

	"waryowl/demo"
	"waryowl/internal/app/account"
	"waryowl/internal/app/act"
	"waryowl/internal/app/first"
	"waryowl/internal/app/model"
	"waryowl/internal/app/visit"
	"waryowl/internal/backup"
	"waryowl/internal/calibration"
	"waryowl/internal/instrument"
	"waryowl/internal/mariadb"
	"waryowl/internal/server"
	"waryowl/internal/sim"
	"waryowl/internal/store"
)

func indent(b *bytes.Buffer, doc []byte) error { return json.Indent(b, doc, "", "  ") }

// setting is an environment variable with its default.
func setting(name, fallback string) string {
	if v := os.Getenv(name); v != "" {
		return v
	}
	return fallback
}

// open connects to the database: WARYOWL_DSN, or a private server under WARYOWL_VAR, and migrates it. close ends what
// was started.
func open(ctx context.Context) (s *act.Service, closeAll func(), err error) {
	s, _, closeAll, err = openWatched(ctx)
	return s, closeAll, err
}

// beside is [open] for a short task that may run while the application is served.
func beside(ctx context.Context) (s *act.Service, closeAll func(), err error) {
	s, _, closeAll, err = openWith(ctx, mariadb.Join)
	return s, closeAll, err
}

// openWatched also returns what starts the private server again whenever it ends; it runs until its context ends.
func openWatched(ctx context.Context) (s *act.Service, watch func(context.Context) error, closeAll func(), err error) {
	return openWith(ctx, mariadb.Start)
}

func openWith(ctx context.Context, start func(context.Context, mariadb.Config) (*mariadb.Server,
	error)) (s *act.Service,
	watch func(context.Context) error, closeAll func(), err error) {
	dsn := os.Getenv("WARYOWL_DSN")
	owner := setting("WARYOWL_OWNER_DSN", dsn)
	var full func() bool
	free := func() (uint64, bool) { return 0, false }
	closeAll = func() {}
	watch = func(context.Context) error { return nil }
	if dsn == "" {
		config := mariadb.Config{Dir: filepath.Join(setting("WARYOWL_VAR", "var"), "db")}
		db, err := start(ctx, config)
		if err != nil {
			return nil, nil, nil, err
		}
		watch = func(ctx context.Context) error {
			return db.Watch(ctx, config, func(pid int) { slog.Warn("the database ended and was started again", "pid", pid) })
		}
		dsn, owner, full, free = db.DSN("waryowl"), db.OwnerDSN("waryowl"), db.Full, db.Free
		closeAll = func() {
			if err := db.Stop(); err != nil {
				slog.Error("stopping the database", "err", err)
			}
		}
	}
	db, opened, err := store.OpenRecord(ctx, dsn, owner)
	s = &act.Service{DB: db, DSN: opened, Now: time.Now, Full: full, House: house(free)}
	if err == nil {
		err = model.EnsureCatalogue(ctx, s)
	}
	if err != nil {
		closeAll()
		return nil, nil, nil, err
	}
	stop, again := closeAll, watch
	watch = func(ctx context.Context) error {
		g, ctx := errgroup.WithContext(ctx)
		g.Go(func() error { return again(ctx) })
		g.Go(func() error { return store.Keeps(ctx, dsn, owner, opened, 2*time.Second) })
		return g.Wait()
	}
	return s, watch, func() {
		if pool, err := db.DB(); err == nil {
			pool.Close()
		}
		stop()
	}, nil
}

func serveCommand(withDemo bool) *cobra.Command {
	cmd := &cobra.Command{Use: "serve", Short: "Serve the application", Args: cobra.NoArgs}
	if withDemo {
		cmd.Use, cmd.Short = "demo", "Load the demo world once and serve it"
	}
	cmd.RunE = func(cmd *cobra.Command, _ []string) error {
		ctx, stop := signal.NotifyContext(cmd.Context(), os.Interrupt, syscall.SIGTERM, syscall.SIGHUP)
		defer stop()
		return serve(ctx, withDemo)
	}
	return cmd
}

func serve(ctx context.Context, withDemo bool) error {
	address := setting("WARYOWL_LISTEN", net.JoinHostPort("127.0.0.1", setting("PORT", "8420")))
	cert, key := os.Getenv("WARYOWL_TLS_CERT"), os.Getenv("WARYOWL_TLS_KEY")
	if (cert == "") != (key == "") {
		return errors.New("set both WARYOWL_TLS_CERT and WARYOWL_TLS_KEY, or neither")
	}
	listener, err := net.Listen("tcp", address)
	if err != nil {
		return fmt.Errorf("cannot listen on %s: %w; stop what uses it, or set PORT to another number", address, err)
	}
	defer listener.Close()
	proxies, err := proxies()
	if err != nil {
		return err
	}
	backups, every, keep, err := scheduled()
	if err != nil {
		return err
	}
	s, watch, closeAll, err := openWatched(ctx)
	if err != nil {
		return err
	}
	defer closeAll()
	metrics, err := metricsListener()
	if err != nil {
		return err
	}
	service := &calibration.Client{URL: os.Getenv("WARYOWL_CALIBRATION"), Patience: 4 * time.Second}
	if withDemo && service.URL == "" {
		stop, address, err := standIn()
		if err != nil {
			return err
		}
		defer stop()
		service.URL = address
	}
	c := server.Config{App: s, Calibration: service, Secure: cert != "", Proxies: proxies,
		Log: slog.Default()}
	if withDemo {
		if err := demo.Load(ctx, s); err != nil {
			return err
		}
		accounts, err := demo.Accounts()
		if err != nil {
			return err
		}
		for _, a := range accounts {
			c.Demo = append(c.Demo, server.SignIn(a))
		}
	}
	places, err := instrument.Addresses(os.Getenv("WARYOWL_INSTRUMENTS"))
	if err != nil {
		return err
	}
	if withDemo && len(places) == 0 {
		if places, err = instruments(ctx, "127.0.0.1", 0); err != nil {
			return err
		}
	}
	c.Instruments = instrument.Start(ctx, places)
	c.Metrics = metrics != nil
	handler, told, err := server.New(c)
	if err != nil {
		return err
	}
	h := &http.Server{Handler: handler, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: time.Minute,
		WriteTimeout: 2 * time.Minute, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 64 << 10}
	scheme := "http"
	if cert != "" {
		scheme = "https"
	}
	fmt.Printf("Wary Owl serves %s://%s\n", scheme, listener.Addr())
	for _, a := range c.Demo {
		fmt.Printf("  demo sign-in: %-11s password %s\n", a.Name, a.Password)
	}
	if err := firstAccount(ctx, s, scheme+"://"+listener.Addr().String()); err != nil {
		return err
	}
	g, ctx := errgroup.WithContext(ctx)
	g.Go(func() error { return watch(ctx) })
	g.Go(func() error { // what the first pages keep is worked out before somebody asks for it
		if _, err := first.Show(ctx, s, act.Actor{Role: act.Analyst}); err != nil && ctx.Err() == nil {
			slog.Warn("the first page was not worked out ahead", "err", err)
		}
		return nil
	})
	g.Go(func() error { // what owners of phones said is deleted in time
		for turn := time.NewTicker(time.Hour); ; {
			if n, err := visit.Forget(ctx, s); err != nil && ctx.Err() == nil {
				slog.Warn("what owners said could not be deleted", "err", err)
			} else if n > 0 {
				slog.Info("what owners said was deleted", "visits", n)
			}
			select {
			case <-ctx.Done():
				turn.Stop()
				return nil
			case <-turn.C:
			}
		}
	})
	if backups != "" {
		g.Go(func() error { return backup.Keep(ctx, s.DSN, store.Edition(), backups, every, keep, slog.Default()) })
	}
	if metrics != nil {
		m := &http.Server{Handler: told, ReadHeaderTimeout: 5 * time.Second}
		g.Go(func() error {
			if err := m.Serve(metrics); !errors.Is(err, http.ErrServerClosed) {
				return err
			}
			return nil
		})
		g.Go(func() error { <-ctx.Done(); return m.Close() })
	}
	g.Go(func() error {
		run := func() error { return h.Serve(listener) }
		if cert != "" {
			run = func() error { return h.ServeTLS(listener, cert, key) }
		}
		err := run()
		if errors.Is(err, http.ErrServerClosed) {
			return nil
		}
		return err
	})
	g.Go(func() error {
		<-ctx.Done()
		last, cancel := context.WithTimeout(context.Background(), 10*time.Second)
		defer cancel()
		return h.Shutdown(last) // running requests end first, then the server, then the database
	})
	return g.Wait()
}

// metricsListener is the address of WARYOWL_METRICS; what is counted is told there and nowhere else.
func metricsListener() (net.Listener, error) {
	address := os.Getenv("WARYOWL_METRICS")
	if address == "" {
		return nil, nil
	}
	l, err := net.Listen("tcp", address)
	if err != nil {
		return nil, fmt.Errorf("WARYOWL_METRICS: cannot listen on %s: %w", address, err)
	}
	return l, nil
}

// firstAccount prints the way to the first administrator while there is no account at all.
func firstAccount(ctx context.Context, s *act.Service, base string) error {
	token, err := account.First(ctx, s)
	if err != nil || token == "" {
		return err
	}
	fmt.Printf("  nobody has an account yet: make the first administrator at %s/link/%s\n", base, token)
	return nil
}

// proxies are the networks of WARYOWL_PROXIES whose word about the address of a request counts: 10.0.0.0/8,fd00::/8.
func proxies() ([]netip.Prefix, error) {
	var list []netip.Prefix
	for text := range strings.SplitSeq(os.Getenv("WARYOWL_PROXIES"), ",") {
		if text = strings.TrimSpace(text); text == "" {
			continue
		}
		p, err := netip.ParsePrefix(text)
		if at, single := netip.ParseAddr(text); single == nil {
			p, err = at.Prefix(at.BitLen())
		}
		if err != nil {
			return nil, fmt.Errorf("WARYOWL_PROXIES: found %q; allowed: addresses and networks, with commas between", text)
		}
		list = append(list, p)
	}
	return list, nil
}

// standIn serves the simulated calibration service of the demo on a port of loopback that is free.
func standIn() (stop func(), address string, err error) {
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return nil, "", err
	}
	h := &http.Server{Handler: &sim.Service{Delay: 30 * time.Second}, ReadHeaderTimeout: 5 * time.Second}
	go h.Serve(listener)
	return func() { h.Close() }, "http://" + listener.Addr().String(), nil
}

// instruments starts the simulated instruments on ports of a host, the first on the given one (0: whichever is free).
func instruments(ctx context.Context, host string, port int) ([]instrument.Address, error) {
	var list []instrument.Address
	for k, i := range sim.Instruments() {
		at := 0
		if port > 0 {
			at = port + k
		}
		l, err := net.Listen("tcp", net.JoinHostPort(host, strconv.Itoa(at)))
		if err != nil {
			return nil, fmt.Errorf("the simulated %s: %w", i.Name, err)
		}
		go i.Serve(ctx, l)
		list = append(list, instrument.Address{Name: i.Name, Host: l.Addr().String()})
	}
	return list, nil
}

// instrumentsCommand serves the simulated instruments by themselves.
func instrumentsCommand() *cobra.Command {
	var port int
	cmd := &cobra.Command{Use: "instruments", Short: "Serve simulated measuring instruments on loopback",
		Args: cobra.NoArgs}
	cmd.Flags().IntVar(&port, "port", 8430, "port of the first one; the others follow it")
	cmd.RunE = func(cmd *cobra.Command, _ []string) error {
		ctx, stop := signal.NotifyContext(cmd.Context(), os.Interrupt, syscall.SIGTERM)
		defer stop()
		list, err := instruments(ctx, "127.0.0.1", port)
		if err != nil {
			return err
		}
		var setting []string
		for _, a := range list {
			setting = append(setting, a.Name+"=tcp://"+a.Host)
		}
		fmt.Printf("WARYOWL_INSTRUMENTS=%q\n", strings.Join(setting, ","))
		<-ctx.Done()
		return nil
	}
	return cmd
}

// calibrationCommand serves the simulated calibration service by itself.
func calibrationCommand() *cobra.Command {
	var address string
	cmd := &cobra.Command{Use: "calibration", Short: "Serve a simulated calibration service on loopback",
		Args: cobra.NoArgs}
	cmd.Flags().StringVar(&address, "listen", "127.0.0.1:8421", "address")
	cmd.RunE = func(cmd *cobra.Command, _ []string) error {
		ctx, stop := signal.NotifyContext(cmd.Context(), os.Interrupt, syscall.SIGTERM)
		defer stop()
		listener, err := net.Listen("tcp", address)
		if err != nil {
			return fmt.Errorf("cannot listen on %s: %w", address, err)
		}
		h := &http.Server{Handler: &sim.Service{Delay: 30 * time.Second},
			ReadHeaderTimeout: 5 * time.Second}
		go func() {
			<-ctx.Done()
			h.Close()
		}()
		fmt.Printf("A simulated calibration service at http://%s\n", listener.Addr())
		if err := h.Serve(listener); !errors.Is(err, http.ErrServerClosed) {
			return err
		}
		return nil
	}
	return cmd
}

func migrateCommand() *cobra.Command {
	return &cobra.Command{Use: "migrate", Short: "Bring the database up to this program", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			_, closeAll, err := open(cmd.Context())
			if err == nil {
				closeAll()
			}
			return err
		}}
}

// rebuildCommand works out anew what is kept beside the facts to find them fast.
func rebuildCommand() *cobra.Command {
	return &cobra.Command{Use: "rebuild", Short: "Work out anew what is kept beside the facts", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			s, closeAll, err := open(cmd.Context())
			if err != nil {
				return err
			}
			defer closeAll()
			return store.Within(cmd.Context(), s.DB, func(tx *gorm.DB) error {
				if err := store.ForgetDerived(tx); err != nil { // it is worked out again when it is asked for
					return err
				}
				return store.FindableAgain(tx, "")
			})
		}}
}

func userCommand() *cobra.Command {
	var display, role string
	cmd := &cobra.Command{Use: "user NAME", Short: "Make an account; the password comes from WARYOWL_PASSWORD",
		Args: cobra.ExactArgs(1)}
	cmd.Flags().StringVar(&display, "display", "", "name that others see")
	cmd.Flags().StringVar(&role, "role", "analyst", "analyst, technician, buyer or administrator")
	cmd.RunE = func(cmd *cobra.Command, args []string) error {
		s, closeAll, err := beside(cmd.Context())
		if err != nil {
			return err
		}
		defer closeAll()
		if display == "" {
			display = args[0]
		}
		_, err = account.Add(cmd.Context(), s, act.Command{Key: store.NewID(), Hash: "user"}, args[0], display, role,
			os.Getenv("WARYOWL_PASSWORD"))
		return err
	}
	return cmd
}
