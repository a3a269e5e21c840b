"""Knead turns a few hand-drawn vector keys into a drawn morph."""

import os

# The matrices of a figure are small: a second thread of OpenBLAS saves nothing, and takes the processor that another
# plan, the browser or the tests could use. It reads this once, when NumPy is imported.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
