"""A made-up box of 24 wax pencils, named after places, weather and the workshop; tones are invented."""

# (id, name, D50 Lab of the solid)
WAX_24 = (
    ("chalk-pier", "Chalk Pier", (95.0, 0.0, 1.5)),
    ("sailcloth", "Sailcloth", (90.0, 2.0, 14.0)),
    ("lamp-glass", "Lamp Glass", (86.0, 6.0, 38.0)),
    ("brass-rail", "Brass Rail", (70.0, 12.0, 54.0)),
    ("coiled-rope", "Coiled Rope", (74.0, 9.0, 28.0)),
    ("low-dune", "Low Dune", (82.0, 9.0, 21.0)),
    ("shell-dusk", "Shell Dusk", (79.0, 20.0, 15.0)),
    ("slipway-rose", "Slipway Rose", (61.0, 43.0, 15.0)),
    ("buoy", "Buoy", (53.0, 58.0, 43.0)),
    ("lamp-ember", "Lamp Ember", (65.0, 33.0, 46.0)),
    ("quay-brick", "Quay Brick", (45.0, 37.0, 31.0)),
    ("rust-bolt", "Rust Bolt", (43.0, 31.0, 40.0)),
    ("clinker", "Clinker", (34.0, 20.0, 22.0)),
    ("tarred-deck", "Tarred Deck", (27.0, 9.0, 11.0)),
    ("bollard", "Bollard", (22.0, 1.0, 1.0)),
    ("wet-slate", "Wet Slate", (44.0, -2.0, -8.0)),
    ("night-tide", "Night Tide", (25.0, 7.0, -27.0)),
    ("mid-channel", "Mid Channel", (41.0, 0.0, -42.0)),
    ("sea-fret", "Sea Fret", (76.0, -2.0, -9.0)),
    ("headland-heath", "Headland Heath", (45.0, 23.0, -24.0)),
    ("late-squall", "Late Squall", (61.0, 14.0, -12.0)),
    ("kelp", "Kelp", (43.0, -13.0, 23.0)),
    ("weir", "Weir", (54.0, -25.0, 1.0)),
    ("bench-putty", "Bench Putty", (67.0, 6.0, 14.0)),
)
