"""From which loss of light on a corner counts as darkened."""

# A corner is free of vignetting up to the first, and its darkening is hardly seen up to the second; common practice,
# no source.
CLEAN_STOPS, VISIBLE_STOPS = 0.1, 0.33
