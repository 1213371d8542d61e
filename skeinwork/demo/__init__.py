"""The made-up corpus *Sollen Harbours*: a seeded generator over a hand-written bank."""
