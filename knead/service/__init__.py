"""Use cases: edits, undo, plans kept for reuse, export jobs."""
