// Package web is Vindel's pages: Gin routes that read a request, call one function of the core
// or the store, and choose a view. It holds no SQL, and asks the core for what is true of knitting.
//
//	server.go    routes, and what stands before them      errors.go  who is told what went wrong
//	views.go     templates, rendered into a buffer         assets.go  styles, scripts, fonts
//	opened.go    a stored piece with what the core says    options.go the choices of a piece
//	bundle.go    one script and one style sheet a page     changed.go what a desk is answered: what has changed
//	one file a page: pieces, draw, place, prove, prepare, knit, lost, wrong, machines, project, shelves, journal
//
// A page's template has its name; parts that several pages take are in templates/partials and
// take named values. Styles are one file a component, in the order that views.go lists; scripts are modules that
// app.js gathers.
package web
