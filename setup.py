"""Compiles the loops of the core for this machine; all else about the package is in pyproject.toml."""

from pathlib import Path

from Cython.Build import cythonize
from setuptools import Extension, setup

LOOPS = [
    Extension(
        ".".join(source.with_suffix("").parts),
        [str(source)],
        extra_compile_args=["-O3", "-march=native", "-ffast-math", "-g0"],
        libraries=["m"],
    )
    for source in sorted(Path("knead/core/outline/compiled").glob("[!_]*.py"))
]

# beside one another: on a fresh machine all tests wait for these
setup(
    ext_modules=cythonize(LOOPS, build_dir=".knead/build", nthreads=len(LOOPS)),
    options={"build_ext": {"parallel": len(LOOPS)}},
)
