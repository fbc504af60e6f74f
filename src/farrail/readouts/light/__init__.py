"""Light: which part vignettes which corner, and what the cone does to sharpness and colour."""
