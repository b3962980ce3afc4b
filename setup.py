"""Makes a compiled wheel where `NUB_SHIFT_COMPILED` is set (with mypy there, without build isolation), else a pure one.

Catalogues of translations are compiled in any case. All else is in pyproject.toml.
"""

import os
import runpy
import sys
from pathlib import Path

from setuptools import setup

TOOLS = Path(__file__).parent / "tools"
runpy.run_path(str(TOOLS / "catalogue.py"))["compile_all"]()
ext_modules = []
if os.environ.get("NUB_SHIFT_COMPILED") and not {"dist_info", "egg_info"} & set(sys.argv):
    from mypyc.build import mypycify

    compiling = runpy.run_path(str(TOOLS / "compile.py"))
    ext_modules = mypycify([*compiling["MYPYC_OPTIONS"], *compiling["modules"]()], **compiling["MYPYC_SETTINGS"])

setup(ext_modules=ext_modules)
