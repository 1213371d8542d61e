"""Fits, and the prevalence of their topics."""
