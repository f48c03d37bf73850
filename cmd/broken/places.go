package main

import (
	"fmt"
	"go/ast"
	"go/token"
	"go/types"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"golang.org/x/tools/go/packages"
)

// Place is a place in the source where a rule is broken: the text from Start to End (bytes) becomes Text, with %d in
// it for the number of its switch.
type Place struct {
	No         int // its switch, from 1
	Rule       int // index among the rules
	File, Func string
	Line       int
	Package    string // import path
	Kind       string
	Start, End int
	Text       string
	Was, Is    string // in words
}

func (p *Place) String() string {
	return fmt.Sprintf("%s:%d %s: %s: %s → %s", p.File, p.Line, p.Func, p.Kind, p.Was, p.Is)
}

// Key names a place whatever stands above it in its file.
func (p *Place) Key() string { return p.File + " " + p.Func + ": " + p.Was + " → " + p.Is }

// Draw draws n places, none inside another: a rule first, then a kind of break in it, then a place.
func Draw(rng *rand.Rand, places []*Place, n int) (drawn []*Place) {
	by := map[int]map[string][]*Place{}
	var rules []int
	for _, p := range places {
		if by[p.Rule] == nil {
			by[p.Rule] = map[string][]*Place{}
			rules = append(rules, p.Rule)
		}
		by[p.Rule][p.Kind] = append(by[p.Rule][p.Kind], p)
	}
	for tries := 0; len(drawn) < n && tries < 100*n && len(rules) > 0; tries++ {
		kinds := by[rules[rng.IntN(len(rules))]]
		var names []string
		for k := range kinds {
			names = append(names, k)
		}
		slices.Sort(names)
		of := kinds[names[rng.IntN(len(names))]]
		p := of[rng.IntN(len(of))]
		if !slices.ContainsFunc(drawn, func(d *Place) bool {
			return d.File == p.File && p.Start < d.End && d.Start < p.End
		}) {
			drawn = append(drawn, p)
		}
	}
	slices.SortFunc(drawn, func(a, b *Place) int {
		if a.File != b.File {
			return strings.Compare(a.File, b.File)
		}
		return a.Start - b.Start
	})
	for i, p := range drawn {
		p.No = i + 1
	}
	return drawn
}

// Places lists the places of all rules that `keep` keeps.
func Places(rules []Rule, keep func(*Place) bool) (list []*Place, err error) {
	of := map[string][]int{}
	for i, r := range rules {
		of[r.File] = append(of[r.File], i)
	}
	root, err := os.Getwd()
	if err != nil {
		return nil, err
	}
	pkgs, err := packages.Load(&packages.Config{Mode: packages.NeedName | packages.NeedFiles | packages.NeedSyntax |
		packages.NeedTypes | packages.NeedTypesInfo | packages.NeedImports | packages.NeedDeps}, "./...")
	if err != nil {
		return nil, err
	}
	for _, pkg := range pkgs {
		if len(pkg.Errors) > 0 {
			return nil, pkg.Errors[0]
		}
		for _, f := range pkg.Syntax {
			name, err := filepath.Rel(root, pkg.Fset.Position(f.Package).Filename)
			if err != nil || len(of[name]) == 0 {
				continue
			}
			text, err := os.ReadFile(name)
			if err != nil {
				return nil, err
			}
			for _, decl := range f.Decls {
				fn, ok := decl.(*ast.FuncDecl)
				if !ok || fn.Body == nil || fn.Name.Name == "String" || fn.Name.Name == "init" {
					continue
				}
				rule := -1
				for _, i := range of[name] {
					if rules[i].Func == fn.Name.Name || rules[i].Func == "" && rule < 0 {
						rule = i
					}
				}
				if rule < 0 {
					continue
				}
				g := &gatherer{fset: pkg.Fset, info: pkg.TypesInfo, text: string(text),
					at: Place{Rule: rule, File: name, Func: fn.Name.Name, Package: pkg.PkgPath}}
				g.gather(fn.Body)
				for _, p := range g.found {
					if keep(p) {
						list = append(list, p)
					}
				}
			}
		}
	}
	return list, nil
}

// gatherer walks a function.
type gatherer struct {
	fset  *token.FileSet
	info  *types.Info
	text  string
	at    Place
	found []*Place
}

func (g *gatherer) src(n ast.Node) string {
	return g.text[g.fset.Position(n.Pos()).Offset:g.fset.Position(n.End()).Offset]
}

func (g *gatherer) add(n ast.Node, kind, is, text string) {
	p := g.at
	from := g.fset.Position(n.Pos())
	p.Line, p.Start, p.End = from.Line, from.Offset, g.fset.Position(n.End()).Offset
	p.Kind, p.Text, p.Was, p.Is = kind, text, short(g.src(n)), short(is)
	g.found = append(g.found, &p)
}

func short(s string) string { return strings.Join(strings.Fields(s), " ") }

// either is an expression that is b where the place's switch is thrown and a otherwise, only one of them worked out.
func either(a, b string) string {
	return "(broken__.Is(%[1]d) && (" + escaped(b) + ") || !broken__.Is(%[1]d) && (" + escaped(a) + "))"
}

func escaped(s string) string { return strings.ReplaceAll(s, "%", "%%") }

var (
	near = map[token.Token]token.Token{token.LSS: token.LEQ, token.LEQ: token.LSS, token.GTR: token.GEQ,
		token.GEQ: token.GTR, token.EQL: token.NEQ, token.NEQ: token.EQL}
	exchanged = map[string]string{"Left": "Right", "First": "Last", "FirstPart": "SecondPart", "KnitSide": "PurlSide",
		"Main": "Second", "Low": "High", "Selected": "Unselected"}
)

func init() {
	for a, b := range exchanged {
		exchanged[b] = a
	}
}

func (g *gatherer) gather(body *ast.BlockStmt) {
	ast.Inspect(body, func(n ast.Node) bool {
		switch n := n.(type) {
		case *ast.BinaryExpr:
			g.binary(n)
		case *ast.SelectorExpr:
			g.side(n)
		case *ast.CallExpr:
			g.method(n)
		case *ast.IfStmt:
			if c := g.src(n.Cond); !strings.Contains(c, "err != nil") { // what fails, tests of the edges make fail
				g.add(n.Cond, "condition", "never", either(c, "false"))
			}
		case *ast.BlockStmt:
			for _, st := range n.List {
				g.step(st)
			}
		case *ast.CaseClause:
			for _, st := range n.Body {
				g.step(st)
			}
		case *ast.FuncLit:
			return true
		}
		return true
	})
}

func (g *gatherer) binary(n *ast.BinaryExpr) {
	x, y := g.src(n.X), g.src(n.Y)
	if near[n.Op] != token.ILLEGAL {
		if isNil(n.X) || isNil(n.Y) {
			return
		}
		op := near[n.Op].String()
		g.add(n, "comparison", x+" "+op+" "+y, either(g.src(n), x+" "+op+" "+y))
		return
	}
	switch n.Op {
	case token.LAND:
		g.add(n, "condition", x, either(g.src(n), x))
	case token.LOR:
		g.add(n, "condition", x, either(g.src(n), x))
	case token.ADD, token.SUB:
		t, ok := g.info.TypeOf(n).(*types.Basic)
		lit, one := n.Y.(*ast.BasicLit)
		if ok && t.Kind() == types.Int && one && lit.Value == "1" && g.info.Types[n].Value == nil {
			g.add(n, "limit", x, "broken__.By(%[1]d, "+escaped(g.src(n))+", "+escaped(x)+")")
		}
	}
}

func isNil(e ast.Expr) bool {
	id, ok := e.(*ast.Ident)
	return ok && (id.Name == "nil" || id.Name == "true" || id.Name == "false")
}

// side exchanges a named side for the other: a constant or variable of a package.
func (g *gatherer) side(n *ast.SelectorExpr) {
	other, ok := exchanged[n.Sel.Name]
	pkg, isID := n.X.(*ast.Ident)
	if !ok || !isID {
		return
	}
	name, ok := g.info.Uses[pkg].(*types.PkgName)
	if !ok || name.Imported().Scope().Lookup(other) == nil {
		return
	}
	if t := g.info.TypeOf(n); t == nil || g.info.Types[n].IsType() ||
		!types.Identical(t, name.Imported().Scope().Lookup(other).Type()) {
		return
	}
	g.add(n, "side", pkg.Name+"."+other, "broken__.By(%[1]d, "+g.src(n)+", "+pkg.Name+"."+other+")")
}

// method exchanges a method for its opposite: First for Last, of a value that costs nothing to name twice.
func (g *gatherer) method(n *ast.CallExpr) {
	sel, ok := n.Fun.(*ast.SelectorExpr)
	if !ok || len(n.Args) > 0 {
		return
	}
	other, ok := exchanged[sel.Sel.Name]
	if !ok || !plain(sel.X) {
		return
	}
	if obj, _, _ := types.LookupFieldOrMethod(g.info.TypeOf(sel.X), true, nil, other); obj == nil {
		return
	} else if _, isFunc := obj.(*types.Func); !isFunc || !types.Identical(signature(obj.Type()),
		signature(g.info.TypeOf(sel))) {
		return
	}
	x := g.src(sel.X)
	g.add(n.Fun, "side", x+"."+other, "broken__.By(%[1]d, "+escaped(g.src(n.Fun))+", "+escaped(x+"."+other)+")")
}

func signature(t types.Type) types.Type {
	if s, ok := t.(*types.Signature); ok {
		return types.NewSignatureType(nil, nil, nil, s.Params(), s.Results(), s.Variadic())
	}
	return t
}

func plain(e ast.Expr) bool {
	switch e := e.(type) {
	case *ast.Ident:
		return true
	case *ast.SelectorExpr:
		return plain(e.X)
	}
	return false
}

// step leaves a statement out: a call for its effect, or an assignment to what stands already.
func (g *gatherer) step(st ast.Stmt) {
	switch st := st.(type) {
	case *ast.ExprStmt:
		call, ok := st.X.(*ast.CallExpr)
		if !ok || strings.HasPrefix(g.src(call), "panic(") || strings.Contains(g.src(call), "ock()") {
			return
		}
	case *ast.AssignStmt:
		if st.Tok == token.DEFINE {
			return
		}
	case *ast.IncDecStmt:
	default:
		return
	}
	// One line stays one line, so that what is said of a line is true of the source.
	g.add(st, "step", "left out", "if !broken__.Is(%[1]d) { "+escaped(g.src(st))+" }")
}
