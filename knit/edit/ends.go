package edit

import "vindel/knit/piece"

// Ends chooses how a piece begins ("begin") or ends ("end"); way "" leaves it to hands. Waste yarn is
// the last of the piece's yarns until another is chosen.
func Ends(p *piece.Piece, which, way string) []Change {
	at := Member(which)
	if way == "" {
		if which == "begin" && p.Begin == nil || which == "end" && p.End == nil {
			return nil
		}
		return Drop(at)
	}
	doc := map[string]any{"way": way}
	if way == "waste" {
		doc["yarn"] = p.YarnID(piece.YarnNo(len(p.Yarns)))
	}
	return Set(at, doc)
}
