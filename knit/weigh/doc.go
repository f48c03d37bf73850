// Package weigh says where a plan decides between ways, and what each would cost instead.
//
//	list, err := weigh.Of(ctx, doc, result)   // doc is the piece's, result what check.Run says of it
//
// Each way is the piece with an edit of its own, planned and knitted anew: what it costs is counted, never guessed.
// Who asks is a row of the list in weigh.go. It imports check and what lies below it.
package weigh
