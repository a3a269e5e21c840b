"""Reading and writing open formats, one module each."""
