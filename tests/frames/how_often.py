"""How often frames with a hidden truth are read: 100 times by habit, FAR_RAIL_RUNS times before an estimator lands."""

import os

COUNT = int(os.environ.get("FAR_RAIL_RUNS", "100"))
# How many of the intervals must hold what was hidden.
WANTED = 0.93
