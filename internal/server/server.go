// Package server is the web interface: Gin carries routes and middleware, huma turns typed handlers into validation,
// problem details and the OpenAPI document. It holds no rule of the job.
package server

import (
	"context"
	"io"
	"log/slog"
	"net/http"
	"net/netip"
	"reflect"
	"runtime/debug"
	"strings"
	"sync/atomic"
	"time"

	"github.com/alexedwards/scs/mysqlstore"
	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
	"github.com/gin-gonic/gin"
	"github.com/klauspost/compress/gzhttp"

	"waryowl/internal/app/act"
	"waryowl/internal/calibration"
	"waryowl/internal/instrument"
	"waryowl/internal/store"
	"waryowl/web"
)

// Config says how the server behaves. Calibration is the maker's service; without an address it is said that none is
// set up. Demo shows the demo sign-ins on the first page. Secure marks cookies for TLS only. Proxies are those whose
// word about the address of a request counts.
type Config struct {
	App         *act.Service
	Calibration *calibration.Client
	Instruments *instrument.Hub
	Demo        []SignIn
	Secure      bool
	Proxies     []netip.Prefix
	Metrics     bool // requests are counted
	Log         *slog.Logger
}

// SignIn is a demo account that the sign-in page offers with one click.
type SignIn struct {
	Name     string `json:"name"`
	Display  string `json:"display"`
	Role     string `json:"role"`
	Password string `json:"password"`
}

type server struct {
	Config
	api      huma.API
	sessions *scs.SessionManager
	attempts *attempts
	rights   map[string]act.Right
	answers  *answers
	sizes    *http.ServeMux // of the bodies that may be larger than others, by route
	heavy    *queue
	programs *programs
	news     *news
	peopled  atomic.Bool // somebody has an account: it stays so
	build    string      // of this program: answers of another one are not the same
}

const (
	sessionHours   = 12
	healthPatience = 1800 * time.Millisecond
)

// New builds the handler of the whole application.
func New(c Config) (handler, told http.Handler, err error) {
	s, engine := build(c)
	return s.handler(engine)
}

// handler puts what every request goes through around the routes.
func (s *server) handler(engine *gin.Engine) (handler, told http.Handler, err error) {
	c := s.Config
	pool, err := c.App.DB.DB()
	if err != nil {
		return nil, nil, err
	}
	if err := s.attempts.share(context.Background(), c.App); err != nil {
		return nil, nil, err
	}
	s.sessions = scs.New()
	s.sessions.Store = &signIns{mysqlstore.NewWithCleanupInterval(pool, 10*time.Minute)}
	s.sessions.Lifetime = sessionHours * time.Hour
	s.sessions.Cookie.Name = sessionCookie
	s.sessions.Cookie.HttpOnly = true
	s.sessions.Cookie.SameSite = http.SameSiteStrictMode
	s.sessions.Cookie.Secure = c.Secure
	s.sessions.ErrorFunc = func(w http.ResponseWriter, _ *http.Request, err error) {
		c.Log.Error("session", "err", err)
		writeProblem(w, http.StatusServiceUnavailable, noDatabase)
	}
	static, err := web.Handler()
	if err != nil {
		return nil, nil, err
	}
	engine.NoRoute(func(g *gin.Context) {
		writeProblem(g.Writer, http.StatusNotFound, "There is nothing at this address.")
	})
	cross := http.NewCrossOriginProtection()
	cross.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		writeProblem(w, http.StatusForbidden, "This change came from another site and was refused.")
	}))
	all := http.NewServeMux()
	all.HandleFunc("GET /readyz", func(w http.ResponseWriter, r *http.Request) { // may requests be sent here?
		ctx, cancel := context.WithTimeout(r.Context(), healthPatience)
		defer cancel()
		var n int
		if err := pool.QueryRowContext(ctx, "SELECT COUNT(*) FROM revisions").Scan(&n); err != nil {
			http.Error(w, "the record cannot be read", http.StatusServiceUnavailable)
			return
		}
		if c.App.Full != nil && c.App.Full() {
			http.Error(w, "the disk of the database is full", http.StatusServiceUnavailable)
			return
		}
		io.WriteString(w, "ready\n")
	})
	all.HandleFunc("GET /healthz", func(w http.ResponseWriter,
		r *http.Request) { // no session: it would wait for the database
		ctx, cancel := context.WithTimeout(r.Context(), healthPatience)
		defer cancel()
		if err := pool.PingContext(ctx); err != nil {
			http.Error(w, "the database does not answer", http.StatusServiceUnavailable)
			return
		}
		io.WriteString(w, "ok\n")
	})
	all.Handle("/api/", s.within(headToo(s.sessions.LoadAndSave(engine))))
	all.Handle("/", static) // no session: the page is there while the database is not
	watched, told := s.watch(all, pool)
	guarded := cross.Handler(watched)
	whole := http.NewServeMux()
	whole.Handle("GET /api/events", s.headers(s.sessions.LoadAndSave(http.HandlerFunc(s.events))))
	whole.Handle("/", s.inTime(gzhttp.GzipHandler(s.headers(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Header.Get("Authorization") != "" { // no cookie counts, and no other site can send it
			watched.ServeHTTP(w, r)
			return
		}
		guarded.ServeHTTP(w, r)
	})))))
	return whole, told, nil
}

// OpenAPI returns the OpenAPI 3.1 document of the routes.
func OpenAPI() ([]byte, error) {
	s, _ := build(Config{App: &act.Service{}, Log: slog.Default()})
	return s.api.OpenAPI().MarshalJSON()
}

func build(c Config) (*server, *gin.Engine) {
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	engine.HandleMethodNotAllowed = true
	engine.NoMethod(func(g *gin.Context) {
		writeProblem(g.Writer, http.StatusMethodNotAllowed, "This address does not take "+g.Request.Method+".")
	})
	engine.Use(gin.CustomRecoveryWithWriter(nil, func(g *gin.Context, err any) {
		c.Log.Error(
			"panic",
			"request",
			requestID(g.Request.Context()),
			"path",
			g.Request.URL.Path,
			"err",
			err,
			"stack",
			string(debug.Stack()),
		)
		writeProblem(g.Writer, http.StatusInternalServerError,
			"Something went wrong in the server; nothing was changed.")
		g.Abort()
	}))
	huma.ValidateStrictCasing = true
	huma.DefaultArrayNullable = false
	huma.NewError = newProblem
	config := huma.DefaultConfig("Wary Owl", "1")
	config.DocsPath, config.OpenAPIPath, config.SchemasPath = "", "", ""
	config.CreateHooks = nil // no $schema in bodies
	config.Components.Schemas = huma.NewMapRegistry("#/components/schemas/", schemaName)
	s := &server{Config: c, api: humagin.New(engine, config), attempts: newAttempts(c.Proxies),
		rights:  map[string]act.Right{},
		answers: newAnswers(), build: store.Edition(), sizes: http.NewServeMux(), heavy: newQueue(),
		programs: newPrograms()}
	s.api.UseMiddleware(s.guard, s.remember, s.inTurn)
	s.news = &news{s: s, listeners: map[*listener]bool{}}
	for _, room := range []func(){s.tokenRoutes, s.eventRoutes, s.sessionRoutes, s.findRoutes, s.jobRoutes,
		s.faultRoutes, s.intakeRoutes,
		s.stripRoutes, s.wordRoutes,
		s.waysRoutes, s.closeupRoutes, s.swapRoutes, s.dryrunRoutes,
		s.scoreRoutes, s.handoverRoutes, s.exchangeRoutes, s.partsRoutes, s.ordersRoutes, s.dayRoutes, s.peopleRoutes, s.betweenRoutes,
		s.tradeRoutes, s.visitRoutes} {
		room()
	}
	return s, engine
}

func (s *server) headers(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("Content-Security-Policy", "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; style-src "+
			"'self'; style-src-attr 'unsafe-inline'; "+
			"img-src 'self' data: blob:; font-src 'self'; connect-src 'self'; manifest-src 'self'; worker-src "+
			"'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'")
		if s.secure(r) {
			h.Set("Strict-Transport-Security", "max-age=31536000")
			w = &secured{ResponseWriter: w}
			r = hostCookie(r)
		}
		if strings.HasPrefix(r.URL.Path, "/api/") { // what a browser may keep says so itself
			h.Set("Cache-Control", "no-store")
		}
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "no-referrer")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		h.Set("Permissions-Policy", "camera=(self), microphone=(self), geolocation=()")
		next.ServeHTTP(w, r)
	})
}

// schemaName puts the package before the name (strip.Room is StripRoom), so that every room may call its view Room.
// What is stored and what the server itself says keeps its plain name.
func schemaName(t reflect.Type, hint string) string {
	name := huma.DefaultSchemaNamer(t, hint)
	for t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	pkg := t.PkgPath()[strings.LastIndex(t.PkgPath(), "/")+1:]
	if t.Name() == "" || !strings.HasPrefix(t.PkgPath(), "waryowl/") || pkg == "store" || pkg == "server" {
		return name
	}
	if pkg == "plan" { // PlanStep is the row that is stored
		pkg = "engine"
	}
	return strings.ToUpper(pkg[:1]) + pkg[1:] + name
}
