# Two commands: `make demo` to try Vindel, `make test` to check everything.
ADDR ?= 127.0.0.1:8080
FUZZTIME ?= 5s

.PHONY: demo build test crash fuzz bench texts browser

demo: build
	./vindel demo --addr $(ADDR)

build:
	go build -o vindel ./cmd/vindel

# The page tests that try what goes on at once; the others drive a browser, and go without the
# race detector, which would take them twice as long and find nothing that these do not.
AT_ONCE = TestWorks|TestResults|TestTwoTabs|TestDeskWaits|TestDeskCutOff|TestMutations|TestShelf|TestCharts|TestMeasurePage|TestPutAway|TestCopiesByTheClock

# Packages whose tests work out many pieces, one after another: nothing in them happens at once.
ALONE = ./knit/mistake ./knit/technique ./knit/scan
OTHERS = $$(go list ./... | grep -v -e '/web$$' -e '/knit/mistake$$' -e '/knit/technique$$' -e '/knit/scan$$')

# Everything: formatting, vet, staticcheck, tests with the race detector where there is
# a C compiler, and five seconds of each fuzz target.
test: browser
	@test -z "$$(gofmt -l .)" || { echo "not formatted:"; gofmt -l .; exit 1; }
	go vet ./...
	go tool staticcheck ./...
	@# The page tests wait for a browser most of the time: they run beside the others, on the other core.
	@(go test -timeout 14m ./web $(ALONE) > .web-tests 2>&1; echo $$? > .web-tests.rc) & \
	if command -v cc >/dev/null && [ "$$(go env CGO_ENABLED)" = 1 ]; then \
	  go test -race -timeout 14m $(OTHERS) && go test -race -timeout 14m ./web -run '$(AT_ONCE)'; \
	else go test -timeout 14m $(OTHERS); fi; \
	core=$$?; wait; cat .web-tests; web=$$(cat .web-tests.rc); rm -f .web-tests .web-tests.rc; [ $$core = 0 ] && [ "$$web" = 0 ]
	go test ./knit/machine -run '^$$' -fuzz FuzzParseSet -fuzztime $(FUZZTIME)
	go test ./knit/chart -run '^$$' -fuzz FuzzText -fuzztime $(FUZZTIME)
	go test ./knit/chart -run '^$$' -fuzz FuzzPNG -fuzztime $(FUZZTIME)
	go test ./knit/sketch -run '^$$' -fuzz FuzzRuns -fuzztime $(FUZZTIME)
	go test ./knit/sketch -run '^$$' -fuzz FuzzWorded -fuzztime $(FUZZTIME)
	go test ./knit/lines -run '^$$' -fuzz FuzzLines -fuzztime $(FUZZTIME)
	go test ./knit/edit -run '^$$' -fuzz FuzzApply -fuzztime $(FUZZTIME)
	go test ./knit/piece -run '^$$' -fuzz FuzzRead -fuzztime $(FUZZTIME)
	go test ./knit/recipe -run '^$$' -fuzz FuzzRead -fuzztime $(FUZZTIME)
	go test ./knit/check -run '^$$' -fuzz FuzzRun -fuzztime $(FUZZTIME)
	go test ./link -run '^$$' -fuzz FuzzMessage -fuzztime $(FUZZTIME)

# The crash harness and the power cuts, as often as ROUNDS says; `make test` tries them a few times.
ROUNDS ?= 300
crash:
	VINDEL_ROUNDS=$(ROUNDS) go test ./store ./cmd/vindel -run 'TestPowerCuts|TestCrashes' -v -count=1 -timeout 60m

# Odd input to every form and page for so long; VINDEL_SEED=N tries again what a run has found.
FUZZ ?= 10m
fuzz:
	VINDEL_FUZZ=$(FUZZ) go test ./web -run TestMutations -v -count=1 -timeout 120m

# The catalogue of all texts of the pages, web/texts/en.txt, gathered anew from where they are made; and what of the
# demo's pages a language's catalogue lacks, as lines to be put over: web/texts-LANGUAGE.txt.
LANGUAGE ?= de
texts:
	VINDEL_LANGUAGE=$(LANGUAGE) go test ./web -run "TestCatalogue|TestTextsLeft" -v -count=1

bench:
	go test ./knit/... -run '^$$' -bench .

# The browser that the page tests drive, from Debian where this user may install it.
browser:
	@command -v chromium >/dev/null || command -v google-chrome >/dev/null || { \
	  if [ "$$(id -u)" = 0 ] && command -v apt-get >/dev/null; then apt-get update -q && apt-get install -qy --no-install-recommends chromium; \
	  elif command -v sudo >/dev/null && sudo -n true 2>/dev/null; then sudo apt-get update -q && sudo apt-get install -qy --no-install-recommends chromium; \
	  else echo "The page tests need Chromium. Install it with: apt-get install chromium"; exit 1; fi; }
