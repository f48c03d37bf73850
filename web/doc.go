// Package web is Vindel's pages: Gin routes that read a request, call one function
// of the core or the store, and choose a view. It holds no rule of knitting and no SQL.
//
//	server.go  routes and what stands before them     assets.go  styles, scripts, fonts
//	views.go   templates, rendered into a buffer       desk.go    a piece with its results
//	one file a page: pieces, draw, place, prove, prepare, knit, login
package web
