"""Speed, as ratios: our time and a reference's, measured side by side in one run."""
