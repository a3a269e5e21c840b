"""What holds on to what, all the way: what sits, rests, ends, hangs or folds on a neighbour."""
