// Package acts makes passes and hand steps of what a recipe comes to (recipe.Run), as the machine has them done: which
// needles stand forward, which cams are set, which lines a card has (Plan); and it proves that the passes make the
// loops that the recipe means (Prove). Package technique has the recipe as one of its techniques; here it is knitted.
package acts
