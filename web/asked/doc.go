// Package asked asks for pages and sends forms without a browser: what every kind of page of the demo answers is held
// to what it answered before (testdata/pages.txt), and whatever else is sent, nothing breaks.
package asked
