"""Ubrex: measurements in, corrections with a stated uncertainty out, and a record that is never erased."""

import os

__version__ = "0.1.0"

# Matrices here have tens of rows: threads of the linear algebra would only wait for each other, and keep every core busy
# with it. They are read once, when NumPy is loaded.
for _threads in ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS"):
    os.environ.setdefault(_threads, "1")
