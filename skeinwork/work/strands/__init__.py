"""Skeins and strands: their settings, notes, lists and files."""
