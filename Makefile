# Two commands: `make demo` to try Vindel, `make test` to check everything.
ADDR ?= 127.0.0.1:8080

# Of what Gin can read and write Vindel needs JSON and forms: without the rest the first build is a fifth shorter.
export GOFLAGS = -tags=nomsgpack

.PHONY: demo build test checks alone besides pages at-once soak crash hour fuzz broken bench texts browser

demo: build
	./vindel demo --addr $(ADDR)

# Of the first build the database, SQLite as Go, is the most; then the standard library, and the bundler of the scripts.
build:
	@test -e vindel || echo "Building Vindel. The first time takes two minutes on two quiet cores, and some more where" \
	  "packages are fetched; after that it takes seconds."
	go build -o vindel ./cmd/vindel

# Everything, in four minutes on two cores. Random cases are a fixed slice of those in `make soak`; a machine that
# is busy with other work makes it slower, not red.
test: browser
	$(MAKE) checks
	$(MAKE) -j2 --output-sync=target pages besides

# Beside the pages, which wait for the browser half of the time: all the rest.
besides:
	$(MAKE) alone
	$(MAKE) at-once

checks:
	@test -z "$$(gofmt -l .)" || { echo "not formatted:"; gofmt -l .; exit 1; }
	go vet ./...
	go tool staticcheck ./...

# What several do at once is tried under the race detector where there is a C compiler; nothing else happens at once.
# Where the database is in it, only `make soak` does: building that for the detector takes two minutes.
AT_ONCE = TestSafeTogether|TestTwoAtOnce|TestKnittedOverTheWire|TestRecordedSession|TestPhysical|TestJudge|TestFits
AT_ONCE_PAGES = TestWorks|TestResults|TestTwoTabs|TestDeskWaits|TestDeskCutOff|TestShelf|TestCharts|$\
TestMeasurePage|TestPutAway|TestCopiesByTheClock
LONG = -timeout 60m -vet=off

alone:
	go test $(LONG) -skip '^($(AT_ONCE))$$' $$(go list ./... | grep -v '/web$$')

at-once:
	@if command -v cc >/dev/null && [ "$$(go env CGO_ENABLED)" = 1 ]; then race=-race; fi; set -x; \
	go test $(LONG) $$race -run '^($(AT_ONCE))$$' ./knit/check ./paper ./link

pages:
	go test $(LONG) -parallel 6 ./web

# What takes long, with seeds drawn now: all random cases, everything under the race detector, every fuzz target,
# kills and power cuts, odd requests, an hour of use, and rules broken on purpose. Some hours.
soak: export VINDEL_SOAK = 1
soak: export VINDEL_SEED := $(or $(VINDEL_SEED),$(shell date +%s%N))
soak: browser
	@echo "VINDEL_SEED=$(VINDEL_SEED)"
	go test $(LONG) $$(go list ./... | grep -v '/web$$')
	go test $(LONG) -parallel 4 ./web
	go test $(LONG) -race $$(go list ./... | grep -v -e /knit/mistake$$ -e /knit/technique$$ -e /knit/scan$$ -e /web$$)
	go test $(LONG) -race -run '^($(AT_ONCE_PAGES))$$' ./web
	$(MAKE) fuzz crash hour broken

# Each fuzz target for so long, and odd input to every form and page for so long.
FUZZTIME ?= 60s
FUZZ ?= 5m
fuzz:
	@for at in $$(grep -rl --include=*_test.go '^func Fuzz' knit link); do \
	  for target in $$(grep -o '^func Fuzz[A-Za-z]*' $$at | cut -c6-); do \
	    echo "$$target in $$(dirname $$at)"; \
	    go test ./$$(dirname $$at) -run '^$$' -fuzz "^$$target\$$" -fuzztime $(FUZZTIME) || exit 1; \
	done; done
	VINDEL_FUZZ=$(FUZZ) go test ./web/asked -run TestMutations -v -count=1 -timeout 120m

# The crash harness and the power cuts, as often as ROUNDS says; `make test` tries them a few times.
ROUNDS ?= 300
crash:
	VINDEL_ROUNDS=$(ROUNDS) go test ./store ./cmd/vindel -run 'TestPowerCuts|TestCrashes' -v -count=1 -timeout 60m

# A knitter, a drawer, a machine, a photographer and copies, for so long: what it holds on to must not grow.
HOUR ?= 60m
hour:
	VINDEL_HOUR=$(HOUR) go test ./cmd/vindel -run TestHour -v -count=1 -timeout 180m

# Rules broken on purpose, one at a time: which does no test notice? Three draws of a hundred.
SEEDS ?= $(shell date +%s) $(shell date +%N) $(shell date +%j%H%M)
broken:
	@for seed in $(SEEDS); do go run ./cmd/broken -seed $$seed -n 100 || exit 1; done

# The catalogue of all texts of the pages, web/texts/en.txt, gathered anew from where they are made; and what of the
# demo's pages a language's catalogue lacks, as lines to be put over: web/texts-LANGUAGE.txt.
LANGUAGE ?= de
texts:
	VINDEL_LANGUAGE=$(LANGUAGE) go test ./web -run "TestCatalogue|TestTextsLeft" -v -count=1

bench:
	go test ./knit/... -run '^$$' -bench .

# The browser that the page tests drive, from Debian where this user may install it: the shell without windows, which
# costs a third less, or Chromium itself.
browser:
	@command -v chromium-headless-shell >/dev/null || command -v chromium >/dev/null || \
	command -v google-chrome >/dev/null || { \
	  get="apt-get update -q && (apt-get install -qy --no-install-recommends chromium-headless-shell || \
	    apt-get install -qy --no-install-recommends chromium)"; \
	  if [ "$$(id -u)" = 0 ] && command -v apt-get >/dev/null; then sh -c "$$get"; \
	  elif command -v sudo >/dev/null && sudo -n true 2>/dev/null; then sudo sh -c "$$get"; \
	  else echo "The page tests need Chromium. Install it with: apt-get install chromium-headless-shell"; exit 1; fi; }
