# make demo   start the demo yard (needs Go only)
# make test   install what the tests need and run them all
# make bench  measure against the budgets of docs/architecture.md
# make mutants  change the core wrongly, and count what its tests notice (long)
# make shots  take the pictures of docs/screenshots anew

# The browser of the tests: Debian's Chromium without a window of its own, which is a
# good deal lighter; the whole Chromium where only that can be had.
SHELL_BROWSER := chromium-headless-shell
SUDO := $(shell [ "$$(id -u)" = 0 ] || echo sudo)

.PHONY: demo build test go-test e2e bench mutants shots schema vendor browser

demo: build
	bin/vespers demo

build:
	go build -o bin/vespers ./cmd/vespers

test: go-test e2e

go-test:
	@test -z "$$(gofmt -l $$(git ls-files '*.go'))" || { echo "gofmt these:"; gofmt -l $$(git ls-files '*.go'); exit 1; }
	go vet ./...
	go test ./...

e2e: build browser node_modules/.package-lock.json
	npx playwright test --config e2e/playwright.config.mjs

browser:
	@test -n "$$CHROMIUM" || command -v $(SHELL_BROWSER) >/dev/null \
		|| { $(SUDO) apt-get update -q && $(SUDO) apt-get install -y -q --no-install-recommends $(SHELL_BROWSER); } \
		|| command -v chromium >/dev/null || $(SUDO) apt-get install -y -q --no-install-recommends chromium

node_modules/.package-lock.json: package-lock.json
	npm ci --no-audit --no-fund
	@touch $@

bench: build
	go run ./cmd/bench

mutants:
	go run ./scripts/mutants

shots: build browser node_modules/.package-lock.json
	node scripts/shots.mjs

# The JSON Schema of sheets, and the front-end files, as they are committed.
schema:
	go run ./cmd/vespers sheet schema > docs/sheet.schema.json

vendor: node_modules/.package-lock.json
	node scripts/vendor.mjs
