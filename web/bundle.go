package web

import (
	"fmt"
	"io/fs"
	"path"
	"strings"

	"github.com/evanw/esbuild/pkg/api"
)

// What a page loads: one script and one style sheet, of which both have a map to the files that they are of.
const (
	script = "js/page.js"
	style  = "css/page.css"
)

// bundled joins what is under static/ into those two, by their names there.
func bundled(static fs.FS) (map[string][]byte, error) {
	var sheets strings.Builder
	for _, name := range append([]string{"vendor/bulma.min.css"}, styles...) {
		fmt.Fprintf(&sheets, "@import %q;\n", "/"+name)
	}
	out := map[string][]byte{}
	for name, from := range map[string]api.BuildOptions{
		script: {EntryPoints: []string{"/js/app.js"}},
		style:  {Stdin: &api.StdinOptions{Contents: sheets.String(), Loader: api.LoaderCSS}},
	} {
		made := api.Build(api.BuildOptions{Stdin: from.Stdin, EntryPoints: from.EntryPoints, Outfile: "/" + name,
			Bundle: true, Format: api.FormatESModule, Target: api.ESNext, Sourcemap: api.SourceMapLinked,
			MinifyWhitespace: true, MinifySyntax: true, Charset: api.CharsetUTF8, LogLevel: api.LogLevelSilent,
			Plugins: []api.Plugin{filesOf(static)}})
		if len(made.Errors) > 0 {
			return nil, fmt.Errorf("%s: %s", name, made.Errors[0].Text)
		}
		for _, f := range made.OutputFiles {
			out[path.Join(path.Dir(name), path.Base(f.Path))] = f.Contents
		}
	}
	return out, nil
}

// filesOf lets files be read out of a file system, with / as its root; fonts stay files of their own.
func filesOf(static fs.FS) api.Plugin {
	return api.Plugin{Name: "static", Setup: func(b api.PluginBuild) {
		b.OnResolve(api.OnResolveOptions{Filter: "."}, func(a api.OnResolveArgs) (api.OnResolveResult, error) {
			if a.Kind == api.ResolveCSSURLToken {
				return api.OnResolveResult{Path: a.Path, External: true}, nil
			}
			at := a.Path
			if !path.IsAbs(at) {
				at = path.Join(path.Dir(a.Importer), at)
			}
			return api.OnResolveResult{Path: at, Namespace: "static"}, nil
		})
		b.OnLoad(api.OnLoadOptions{Filter: ".", Namespace: "static"}, func(a api.OnLoadArgs) (r api.OnLoadResult, err error) {
			data, err := fs.ReadFile(static, a.Path[1:])
			text := string(data)
			r.Loader = api.LoaderJS
			switch {
			case path.Ext(a.Path) == ".css":
				r.Loader = api.LoaderCSS
			case path.Base(a.Path) == "htmx.min.js": // it makes a name for whole pages, and a module keeps its names
				text += "\nwindow.htmx = htmx;"
			}
			r.Contents = &text
			return r, err
		})
	}}
}
