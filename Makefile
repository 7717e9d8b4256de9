# make demo serves the demo world; make test runs every test. Both install what is missing.
SHELL := /bin/bash
.SHELLFLAGS := -eu -o pipefail -c
.DELETE_ON_ERROR:

GO_SOURCES := $(shell find cmd internal demo web -path web/node_modules -prune -o \( -name '*.go' -o -name '*.sql' -o -path '*lexicon*.txt' -o -path 'demo/*.json' \) -print) go.mod go.sum
WEB_SOURCES := $(shell find web/src web/public -type f) web/index.html web/vite.config.ts web/package.json
NPM := npm --no-audit --no-fund --loglevel=error

.PHONY: demo serve build test lint count fuzz soak kill test-cluster bench bench-swap screenshots types fmt check-types audit clean

demo: build
	@exec ./bin/waryowl demo

serve: build
	@exec ./bin/waryowl serve

build: bin/waryowl
	@./scripts/need.sh mariadbd=mariadb-server-core mariadb=mariadb-client-core

bin/waryowl: $(GO_SOURCES) web/dist/index.html
	go build -tags ui -trimpath -o $@ ./cmd/waryowl

web/node_modules/.package-lock.json: web/package.json web/package-lock.json
	cd web && $(NPM) ci
	@touch $@

# The bench line as WebAssembly, with the loader that Go ships beside it.
web/wasm/bench.wasm: $(shell find cmd/benchline internal/core \( -name '*.go' -not -name '*_test.go' \) -o -path '*lexicon/*.txt') go.mod
	@mkdir -p web/wasm
	GOOS=js GOARCH=wasm go build -trimpath -ldflags='-s -w' -o $@ ./cmd/benchline
	cp "$$(go env GOROOT)/lib/wasm/wasm_exec.js" web/public/wasm_exec.js

web/dist/index.html: web/node_modules/.package-lock.json web/wasm/bench.wasm $(WEB_SOURCES)
	cd web && npx --no-install vite build --logLevel warn
	@touch $@

e2e/node_modules/.package-lock.json: e2e/package.json e2e/package-lock.json
	cd e2e && PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD=1 $(NPM) ci
	@touch $@

# The schemas and the types of the front end come from the Go types; a test refuses stale ones.
types: web/node_modules/.package-lock.json
	go build -o bin/waryowl-types ./cmd/waryowl
	./bin/waryowl-types openapi > schemas/openapi.json
	for name in $$(./bin/waryowl-types engines); do ./bin/waryowl-types schema $$name > schemas/$$name.json; done
	for name in document tables; do ./bin/waryowl-types schema $$name > schemas/$$name.json; done
	./scripts/generated.sh docs/engines.md ./bin/waryowl-types engines --markdown
	./scripts/generated.sh docs/rights.md ./bin/waryowl-types rights
	./bin/waryowl-types words > web/src/words.trade.json
	cd web && npx --no-install openapi-typescript ../schemas/openapi.json -o src/api/schema.d.ts

check-types: types
	git diff --exit-code --stat -- schemas docs/engines.md docs/rights.md web/src/words.trade.json web/src/api/schema.d.ts || { echo "schemas or types are stale: run make types and commit"; exit 1; }

fmt: web/node_modules/.package-lock.json
	gofmt -w cmd demo internal web/*.go
	cd web && npx --no-install prettier --write src

lint: web/node_modules/.package-lock.json e2e/node_modules/.package-lock.json
	@test -z "$$(gofmt -l cmd demo internal web/*.go)" || { gofmt -l cmd demo internal web/*.go; echo "run make fmt"; exit 1; }
	go vet ./...
	go tool staticcheck ./...
	cd web && npx --no-install vue-tsc --noEmit && npx --no-install eslint . && npx --no-install prettier --check src
	cd e2e && npx --no-install tsc --noEmit

test: build lint check-types e2e/node_modules/.package-lock.json
	@./scripts/need.sh chromium=chromium pdftotext=poppler-utils dot=graphviz zbarimg=zbar-tools
	go test ./...
	cd e2e && npx --no-install playwright test

screenshots: build e2e/node_modules/.package-lock.json
	@./scripts/need.sh chromium=chromium
	cd e2e && npx --no-install playwright test --config pictures.config.ts

fuzz:
	WARYOWL_FUZZ=$${REQUESTS:-200000} go test ./internal/server -run FuzzRoutes -count 1 -timeout 120m -v

# Fifty requests a second to all operations for half an hour: no 5xx, and memory that does not grow.
soak:
	WARYOWL_SOAK=$${MINUTES:-30} go test ./internal/server -run TestSoak -count 1 -timeout 120m -v

# Three database servers in a cluster and two programs before one address, each killed once and two of them cut off for a
# while, under ten writers, in a network of their own. It installs Debian's whole database server: not while another test runs.
test-cluster: build
	@./scripts/need.sh wsrep_sst_rsync=mariadb-server rsync=rsync ss=iproute2
	WARYOWL_CLUSTER=1 go test ./cmd/waryowl -run TestCluster -count 1 -timeout 20m -v

# Kills the server and the database under ten writers, and backups and restores on their way, and says what was lost or
# doubled.
kill: build
	WARYOWL_KILLS=$${KILLS:-1000} go test ./cmd/waryowl -run TestKill -count 1 -timeout 120m -v

bench: build e2e/node_modules/.package-lock.json
	@./scripts/need.sh mariadbd=mariadb-server-core chromium=chromium cbc=coinor-cbc
	./scripts/bench.sh

bench-swap:
	./scripts/bench-swap.sh

# Known faults in what the program is built from; says so where their databases cannot be reached.
audit: web/node_modules/.package-lock.json e2e/node_modules/.package-lock.json
	@./scripts/audit.sh

count:
	@./scripts/count.sh

clean:
	rm -rf bin web/dist web/node_modules e2e/node_modules
