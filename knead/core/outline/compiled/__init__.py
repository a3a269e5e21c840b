"""Loops that can't be array expressions, or would be many small ones.

They are Python that Cython compiles ahead of time (setup.py); uncompiled it does the same, slowly.
"""
