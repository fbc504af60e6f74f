"""How often frames with a hidden truth are read: 24 times, or FAR_RAIL_RUNS times before an estimator lands."""

import os

COUNT = int(os.environ.get("FAR_RAIL_RUNS", "24"))
# How many of the intervals must hold what was hidden.
# Of 95 % intervals; in a short run two standard deviations of the count below that.
WANTED = 0.93 if COUNT >= 100 else 0.86
