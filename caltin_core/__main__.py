"""The command line; see `caltin_core.cli`."""

import gc
import os
import sys

# Small arrays: more threads only wait for each other.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

from caltin_core.cli import main
from caltin_core.lanes import open_lanes

# A large request is many small objects that all stay; to look through them again and again takes as long as to answer it.
gc.set_threshold(200_000, 50, 1000)
# The decoders' own libraries grumble straight to the error stream; faults of ours are told in the answer.
os.dup2(os.open(os.devnull, os.O_WRONLY), 2)
open_lanes()
code = main(sys.argv[1:])
sys.stdout.flush()
# All is said: to take so many small objects apart one by one would keep whoever waits for the end.
os._exit(code)
