"""Patterns and matrices without a server."""
