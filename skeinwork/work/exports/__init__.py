"""All results of a strand in open formats, and its pattern."""
