# Everything a developer does with Orpine. `make help` lists it.
BUILD := $(shell git describe --always --dirty 2>/dev/null || echo unreleased)
DATE := $(shell git log -1 --format=%cs 2>/dev/null)
PLATFORMS := linux/amd64 linux/arm64 darwin/amd64 darwin/arm64 windows/amd64
GO ?= go
ADDR ?= 127.0.0.1:8080
SOURCES := $(shell find cmd internal -name '*.go' -o -name '*.html' -o -name '*.sql') $(wildcard internal/web/ui/assets/*)

.DEFAULT_GOAL := help
.PHONY: help release calendar-proof quick thorough builders terms mutate poppler certutil chaos phones litestream litestream-proof licences vulns toy mutants demo test test-go test-e2e css css-check lint fuzz bench big load race shots sqlc browser tools

help: ## list what there is
	@grep -E '^[a-z0-9-]+:.*##' $(MAKEFILE_LIST) | sed 's/:.*## /\t/' | expand -t14

bin/orpine: $(SOURCES) go.mod go.sum
	$(GO) build -ldflags "-X main.build=$(BUILD) -X main.date=$(DATE)" -o $@ ./cmd/orpine

demo: bin/orpine ## build and start the demo workshop (ADDR=HOST:PORT for another port)
	./bin/orpine demo --addr $(ADDR)

release: ## one file each for Windows, macOS and Linux in dist/, the same bytes each time, with checksums and what is in them
	@rm -rf dist && mkdir dist
	@for p in $(PLATFORMS); do end=; case $$p in windows/*) end=.exe;; esac; out=dist/orpine-$${p%/*}-$${p#*/}$$end; \
	  CGO_ENABLED=0 GOOS=$${p%/*} GOARCH=$${p#*/} $(GO) build -trimpath -buildvcs=false -ldflags "-s -w -buildid= -X main.build=$(BUILD) -X main.date=$(DATE)" -o $$out ./cmd/orpine && echo $$out || exit 1; done
	@cp LICENSE CHANGELOG.md docs/dependencies.md dist/
	@$(GO) run github.com/CycloneDX/cyclonedx-gomod/cmd/cyclonedx-gomod@v1.9.0 mod -json -licenses -noserial -output dist/orpine.cdx.json . 2>/dev/null || echo "no list of what is in it: cyclonedx-gomod could not be had"
	@cd dist && sha256sum orpine-* orpine.cdx.json > SHA256SUMS 2>/dev/null; cat SHA256SUMS

test: poppler test-go test-e2e ## all tests; installs Chromium, poppler-utils and the Node parts if they are missing

quick: ## the core, the gate and its ways round, in a minute and a half at most
	$(GO) test -vet=off ./internal/core/... ./internal/account ./internal/gauge ./internal/exchange ./internal/stores ./internal/riveting ./test/wayround

thorough: ## every column tampered with, every page of every kept shop (CI takes a part of them a day)
	ORPINE_ALL=yes GOGC=400 $(GO) test -vet=off ./internal/ledger ./test/shops

test-go: ## the Go tests (vet is run by make lint)
	GOGC=400 $(GO) test -vet=off ./...

test-e2e: bin/orpine tools browser certutil ## the browser tests
	npx playwright test

tools: node_modules/.package-lock.json

node_modules/.package-lock.json: package.json package-lock.json
	npm ci --ignore-scripts --no-audit --no-fund

browser:
	@test -x /usr/bin/chromium || { echo "installing Chromium"; apt-get update -qq && apt-get install -y -qq chromium; }

certutil:
	@command -v certutil >/dev/null || { echo "installing libnss3-tools"; apt-get update -qq && apt-get install -y -qq libnss3-tools; }

poppler:
	@command -v pdftoppm >/dev/null || { echo "installing poppler-utils"; apt-get update -qq && apt-get install -y -qq poppler-utils; }

css: tools ## build the stylesheet from its sources
	npx @tailwindcss/cli -i internal/web/ui/styles/app.css -o internal/web/ui/assets/app.css --minify

css-check: tools ## the committed stylesheet is what the sources build
	@npx @tailwindcss/cli -i internal/web/ui/styles/app.css -o /tmp/orpine-app.css --minify 2>/dev/null
	@cmp /tmp/orpine-app.css internal/web/ui/assets/app.css || { echo "run make css and commit internal/web/ui/assets/app.css"; exit 1; }

lint: ## formatting, vet and staticcheck
	@test -z "$$(gofmt -l cmd internal test)" || { gofmt -l cmd internal test; exit 1; }
	$(GO) vet ./...
	$(GO) tool staticcheck ./...

fuzz: ## a minute of fuzzing for each parser
	$(GO) test ./internal/core/quantity -run '^$$' -fuzz FuzzLength -fuzztime 1m
	$(GO) test ./internal/core/quantity -run '^$$' -fuzz FuzzAngle -fuzztime 1m
	$(GO) test ./internal/exchange -run '^$$' -fuzz FuzzHoles -fuzztime 1m
	$(GO) test ./internal/exchange -run '^$$' -fuzz FuzzHours -fuzztime 1m
	$(GO) test ./internal/core/plan -run '^$$' -fuzz FuzzLine -fuzztime 1m
	$(GO) test ./internal/riveting -run '^$$' -fuzz FuzzRowForm -fuzztime 1m
	$(GO) test ./internal/core/section -run '^$$' -fuzz FuzzCoordinates -fuzztime 1m
	$(GO) test ./internal/archive -run '^$$' -fuzz FuzzOpen -fuzztime 1m
	$(GO) test ./test/sheets -run '^$$' -fuzz FuzzForms -fuzztime 1m
	$(GO) test ./internal/worksheet -run '^$$' -fuzz FuzzWorksheet -fuzztime 1m

bench: ## the benchmarks
	GOGC=400 $(GO) test ./... -run '^$$' -bench .

toy: ## a copy of the program gets one capability more, by its own files and a line (a minute)
	ORPINE_TOY=yes $(GO) test ./cmd/wiring -count=1

BIG ?= /tmp/orpine-big
big: ## make a big workshop in BIG (8 minutes), and open every page of it (docs/performance.md)
	test -e $(BIG)/orpine.db || $(GO) run ./test/big --data $(BIG)
	ORPINE_BIG=$(BIG) GOGC=400 $(GO) test ./test/sheets -run '^$$' -bench 'Big|Bare|Entry|Rivet'

load: ## 50 clients at once in one setup, beside the bare floor (docs/performance.md)
	GOGC=400 $(GO) run ./test/load

KILLS ?= 1000
chaos: bin/orpine ## kill -9 under load, KILLS times (8 minutes), and look whether anything was lost (docs/performance.md)
	$(GO) run ./test/chaos --kills $(KILLS)

phones: bin/orpine ## 50 phones in open loop for two minutes on the workshop of make big
	$(GO) run ./test/load --shop $(BIG) --for 2m

litestream: ## build the continuous copier, which has a go.mod of its own (3 minutes, once)
	cd tools/litestream && CGO_ENABLED=0 $(GO) build -o ../../bin/litestream github.com/benbjohnson/litestream/cmd/litestream

litestream-proof: bin/orpine ## write, kill both programs, restore the continuous copy and verify it (after make litestream)
	tools/litestream/prove.sh

calendar-proof: bin/orpine ## the calendar of the demo, read by an independent reader (Debian's python3-icalendar)
	@/usr/bin/python3 -c "import icalendar" 2>/dev/null || { apt-get update -qq && apt-get install -y -qq python3-icalendar; }
	tools/calendar/prove.sh

licences: ## the licence of every module that is built in
	@$(GO) list -deps -f '{{with .Module}}{{if not .Main}}{{.Path}} {{.Version}} {{.Dir}}{{end}}{{end}}' ./cmd/orpine | sort -u | while read -r path version dir; do printf '%s %s %s\n' "$$path" "$$version" "$$(grep -hoiE -m1 'MIT License|Apache License|BSD|Redistribution and use|Mozilla Public|Permission is hereby granted|ISC' $$dir/LICENSE* $$dir/LICENCE* $$dir/COPYING* 2>/dev/null | head -1)"; done

vulns: ## known vulnerabilities, where their database can be reached
	$(GO) run golang.org/x/vuln/cmd/govulncheck@latest ./...

BUILDERS ?= 2000
MUTANTS ?= 300
SEED ?= 1
builders: ## BUILDERS random builders with an independent model of the gate (half an hour); CI plays 26
	ORPINE_BUILDERS=$(BUILDERS) $(GO) test ./test/builders -count=1 -timeout 3h -v -run RandomBuilders

terms: ## the terms of the gate taken away one by one: the random builders must notice each
	bash test/builders/terms.sh

mutate: ## MUTANTS wrong lines by seed, all over the core and the gate: at least 95 % are noticed (hours)
	$(GO) run ./test/mutate -n $(MUTANTS) -seed $(SEED)

mutants: ## wrong signs, factors and forgotten terms in the core, one by one: the tests must notice each
	bash test/mutants/run.sh

race: ## the Go tests under the race detector
	CGO_ENABLED=1 $(GO) test -race -short ./internal/... ./test/...

shots: bin/orpine tools browser ## take the pictures in docs/screenshots anew
	node docs/screenshots/take.mjs

sqlc: ## write internal/store/query anew from internal/store/queries
	cd internal/store && $(GO) run github.com/sqlc-dev/sqlc/cmd/sqlc@v1.31.1 generate
