import knead  # noqa: F401  (sets how many threads NumPy takes, before that is imported)
