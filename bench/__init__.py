"""Speed, as ratios within one run. ``python -m bench`` prints JSON."""
