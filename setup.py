"""Compiles the dynamic programmes for this machine; all else about the package is in pyproject.toml."""

from Cython.Build import cythonize
from setuptools import Extension, setup

PROGRAMMES = Extension(
    "knead.core.outline.laying.programmes",
    ["knead/core/outline/laying/programmes.py"],
    extra_compile_args=["-O3", "-march=native", "-ffast-math"],
)

setup(ext_modules=cythonize([PROGRAMMES], build_dir=".knead/build"))
