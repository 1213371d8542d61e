"""The matrix under a weighting, and its files."""
