"""Sollen Harbours: a made-up archipelago's harbour logbooks, and what to look at in them."""

from __future__ import annotations

DEMO = "Sollen Harbours"
EVENTS = (("2014-01-14", "storm winter"), ("2017-04-01", "line closed"), ("2019-01-01", "seabird rule"))
# The demo worked through, made when Skeinwork is set up.
WORKED = "worked.skein.zip"
# What a person called the topics, by a word that stands first in one.
LABELS = {
    "engine": "Engine trouble",
    "cylinders": "Engine trouble",
    "storm": "Storm damage",
    "surge": "Storm damage",
    "breakwater": "Storm damage",
    "ferry": "Ferry traffic",
    "passengers": "Ferry traffic",
    "nests": "Seabirds",
    "colony": "Seabirds",
    "fog": "Fog and lights",
    "visibility": "Fog and lights",
    "nets": "Fishing",
    "haddock": "Fishing",
    "skippers": "Fishing",
    "hut": "Visitors",
    "viewpoint": "Visitors",
    "tariff": "Dues and papers",
    "dues": "Dues and papers",
    "loading": "Cargo",
    "cement": "Cargo",
    "coal": "Cargo",
    "basin": "Dredging",
    "soundings": "Dredging",
    "metres": "Dredging",
    "lifeboat": "Rescue",
    "casualty": "Rescue",
    "slipway": "Slipway work",
    "skiff": "Slipway work",
}
# Where to look at each station, said once.
HINTS = {
    "gather": "Click a bar: the entries behind it appear at the right. Leave out what may spoil a model.",
    "clean": "Every word of one entry with what became of it. Switch a pass off and see; u undoes.",
    "weigh": "Select a term for its entries; x leaves it out, and what follows is marked out of date.",
    "fit": "One model and how it went. Select a topic for the entries that it is strongest in.",
    "choose": "Each point is a fit. Pick one, read its topics below, and take it for the strand.",
    "label": "Press l, write a label, press enter. j and k go from topic to topic.",
    "track": "What surely moves stands first. Look over the time at Tarnholt in 2014, at Ossingby's engines, at the "
    "wardens after 2019; every figure leads to its entries.",
    "share": "Everything in open formats, and the pattern that makes it again from the command line.",
}
