// Package pass is the plan as it is handed on: passes with the hand steps before them, who
// takes which yarn in each, what it all comes to, and how it is said and written.
//
//	Plan
//	 └ Pass   ID · carriage and way · Beds [main, second] · Works (chart rows) · Before
//	    └ Half    needles at work, forward, in hold · Setting · yarns by feeder · size
//
// Groups is the only place that says which needles of a pass take which yarn, and how: the
// planner, the simulated bed, the pictures and the page beside the machine all ask it.
//
// It imports bed and what lies below it; it plans nothing.
package pass
