# make demo · make test · make quick · make bench · make build · make dist · make generate · make clean
SHELL := bash
GO_FILES := $(shell find cmd core internal web -name '*.go' -not -path 'web/node_modules/*') go.mod go.sum
WEB_FILES := $(shell find web/src web/public -type f) $(wildcard web/*.json web/*.ts web/*.js web/index.html)

# One way of compiling for building, checking and testing, so that nothing is compiled twice.
export GOFLAGS := -trimpath -tags=nomsgpack

.PHONY: demo test dist quick laws bench build generate clean format check-go check-web test-go test-web packages-demo packages-test

demo: packages-demo build
	@exec bin/eventether demo

build: bin/eventether

# The command for other computers: rigs are judged, clips looked at and readings taken everywhere; the database of its own, the
# sockets and what this computer is made of are read on Linux.
DIST = linux/amd64 linux/arm64 darwin/amd64 darwin/arm64 windows/amd64 windows/arm64
dist: web/dist/index.html
	@mkdir -p dist
	@for t in $(DIST); do \
	  out=dist/eventether-$${t%/*}-$${t#*/}; case $$t in windows/*) out=$$out.exe;; esac; \
	  CGO_ENABLED=0 GOOS=$${t%/*} GOARCH=$${t#*/} go build -ldflags '-s -w' -o $$out ./cmd/eventether || exit 1; \
	  ls -l $$out | awk '{print $$NF, $$5/1e6 " MB"}'; \
	done

bin/eventether: $(GO_FILES) web/dist/index.html
	go build -ldflags '-s -w' -o $@ ./cmd/eventether

web/dist/index.html: web/node_modules/.installed $(WEB_FILES)
	rm -rf web/dist/assets
	cd web && npx --no-install vite build --logLevel warn
	@touch $@

web/node_modules/.installed: web/package.json web/package-lock.json
	cd web && PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD=1 npm ci --no-audit --no-fund --loglevel error
	@touch $@

packages-demo:
	@scripts/debian-packages postgresql ffmpeg

packages-test:
	@scripts/debian-packages postgresql chromium ffmpeg linux-libc-dev libsrt-gnutls-dev edid-decode v4l-utils usbutils binutils

test: packages-test
	@$(MAKE) --no-print-directory -j2 --output-sync=target check-go check-web
	@$(MAKE) --no-print-directory test-go test-web

check-go:
	@test -z "$$(gofmt -l cmd core internal web/*.go)" || { echo "gofmt would change:"; gofmt -l cmd core internal web/*.go; exit 1; }
	go vet ./...
	go tool staticcheck ./...

check-web: web/node_modules/.installed
	cd web && npm run --silent check
	cd web && npm run --silent unit

test-go:
	go test ./...

test-web: bin/eventether
	cd web && npx --no-install playwright test

# What a change is tried with before make test: no database, no browser, no encoder, no random rigs by the thousand.
QUICK = ./core/... ./internal/calendar ./internal/demo/rigs ./internal/readers ./internal/rigfile ./internal/texts ./internal/wire
quick: web/node_modules/.installed
	go vet $(QUICK)
	go test -short $(QUICK)
	cd web && npx --no-install tsc --noEmit
	cd web && npm run --silent unit

# The laws on as many random rigs as one has time for: make laws RIGS=1000000 FIRST=1
RIGS ?= 100000
FIRST ?= 1
laws: # and what their words say: go test ./core -run NobodyWouldSay -args -wordrigs 5000
	go test ./core -run '^TestLaws$$' -timeout 0 -args -rigs $(RIGS) -first $(FIRST)

bench: bin/eventether
	go test -run '^$$' -bench . -benchmem ./core/... ./internal/...
	cd web && BENCH=1 npx --no-install playwright test --workers 1

# What is made from the Go types and kept in the repository.
generate: web/node_modules/.installed
	go run ./cmd/eventether openapi > docs/api/openapi.json
	go run ./cmd/eventether schema > docs/formats/eventether-rig-1.schema.json
	go run ./cmd/eventether schema shelf > docs/formats/eventether-shelf-1.schema.json
	go run ./cmd/eventether schema sheet > docs/formats/eventether-sheet-1.schema.json
	go run ./cmd/eventether schema runsheet > docs/formats/eventether-runsheet-1.schema.json
	go run ./cmd/eventether schema measure > docs/formats/eventether-measure-1.schema.json
	go run ./cmd/eventether rules > docs/rules.md
	go run ./cmd/eventether edits > docs/edits.md
	go run ./internal/texts > docs/texts.json
	go run ./internal/keyrules > web/src/night/keyRules.json
	cd web && npm run --silent types

format: web/node_modules/.installed
	gofmt -w cmd core internal web/*.go
	cd web && npx --no-install prettier --write src e2e *.ts *.js >/dev/null

clean:
	rm -rf bin dist web/dist/assets web/dist/index.html web/node_modules
