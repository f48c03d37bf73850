// Package link is the open line protocol between Vindel and a machine on a wire (docs/protocol.md), the
// desk's end of it, and a simulated machine that ships with Vindel. It stands on the core, and knows
// neither pages nor the disk.
//
//	message.go  a line of the protocol, read and written
//	judge.go    what a machine reports, held to what the plan says: what is otherwise, and what to do
//	desk.go     the desk's end: sends a program, hears reports
//	standin.go  the simulated machine, its faults and its hands
package link
