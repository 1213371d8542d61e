"""Samplers of LDA, each its file."""
