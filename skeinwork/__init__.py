"""Skeinwork: from a folder of documents to labelled topics and their prevalence."""

__version__ = "0.1.0"
