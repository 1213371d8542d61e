"""What the screens show: one typed answer each, computed from a view of a strand's results.

The server's routes only parse, call and answer; the command line and files can call the same.
"""
