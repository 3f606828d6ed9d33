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

# 36 alcohol markers; two are called alike and unlike, two look alike under a lamp, one has run dry (`DRY`).
MARKERS_36 = (
    ("m-foam", "Foam", (95.0, 0.0, 3.0)),
    ("m-oyster", "Oyster", (90.0, 4.0, 9.0)),
    ("m-shell", "Shell", (88.0, 8.0, 12.0)),
    ("m-lamplight", "Lamplight", (88.0, 5.0, 24.0)),
    ("m-sand-spit", "Sand Spit", (84.0, 8.0, 20.0)),
    ("m-dawn-deck", "Dawn Deck", (82.0, 14.0, 17.0)),
    ("m-biscuit", "Biscuit", (78.0, 11.0, 25.0)),
    ("m-rope-end", "Rope End", (74.0, 12.0, 28.0)),
    ("m-bench-end", "Bench End", (74.0, 14.0, 27.0)),
    ("m-apricot-sail", "Apricot Sail", (77.0, 20.0, 30.0)),
    ("m-terrace", "Terrace", (68.0, 22.0, 28.0)),
    ("m-brick-dust", "Brick Dust", (62.0, 27.0, 25.0)),
    ("m-tile", "Tile", (56.0, 32.0, 30.0)),
    ("m-rudder", "Rudder", (52.0, 22.0, 28.0)),
    ("m-cask", "Cask", (48.0, 18.0, 26.0)),
    ("m-tar-rope", "Tar Rope", (46.0, 13.0, 19.0)),
    ("m-keel", "Keel", (45.0, 9.0, 12.0)),
    ("m-low-tide", "Low Tide", (55.0, 6.0, 14.0)),
    ("m-gull-rose", "Gull Rose", (80.0, 20.0, 6.0)),
    ("m-flush", "Flush", (72.0, 32.0, 14.0)),
    ("m-signal", "Signal", (58.0, 50.0, 30.0)),
    ("m-mulled", "Mulled", (48.0, 40.0, 14.0)),
    ("m-heather", "Heather", (62.0, 20.0, -14.0)),
    ("m-dusk-a", "Dusk", (66.0, 10.0, -16.0)),
    ("m-dusk-b", "Dusk", (50.0, 4.0, -22.0)),
    ("m-harbour-blue", "Harbour Blue", (54.0, -4.0, -34.0)),
    ("m-fret", "Fret", (80.0, -3.0, -10.0)),
    ("m-shoal", "Shoal", (72.0, -16.0, -4.0)),
    ("m-weed", "Weed", (58.0, -16.0, 22.0)),
    ("m-lichen", "Lichen", (76.0, -8.0, 28.0)),
    ("m-olive-oar", "Olive Oar", (58.0, 0.0, 30.0)),
    ("m-mist-1", "Mist One", (88.0, 0.0, -1.0)),
    ("m-mist-2", "Mist Two", (76.0, 0.0, -2.0)),
    ("m-mist-3", "Mist Three", (64.0, 0.0, -2.0)),
    ("m-mist-4", "Mist Four", (52.0, 0.0, -2.0)),
    ("m-wharf", "Wharf", (46.0, 2.0, 3.0)),
)
DRY = "m-brick-dust"
# What labels say: of these the one fades soon, the other contains what hurts.
FADING = frozenset({"m-gull-rose", "m-signal"})
HARMFUL = {"p-soft-4": "cadmium", "p-soft-2": "cadmium"}

# 30 pastels, ten of each: hard sticks, soft sticks, pencils; each ten go through the same tones.
_TEN = (
    (94.0, 0.0, 3.0), (86.0, 7.0, 14.0), (80.0, 6.0, 32.0), (70.0, 22.0, 24.0), (54.0, 34.0, 32.0), (40.0, 16.0, 20.0),
    (28.0, 1.0, 1.0), (60.0, -4.0, -14.0), (58.0, -16.0, 14.0), (38.0, 14.0, -22.0),
)  # fmt: skip
_NAMED = {
    "hard_pastel": "Chalk Step, Pale Deck, Straw Mat, Clay Pipe, Rust Chain, Bark Fender, Cinder, Slate Quay, Verdigris, Watch",
    "soft_pastel": "Morning, Shell Inside, Butter Lamp, Peach Buoy, Ember, Umber Hold, Ink Well, Sea Smoke, Moss Rope, Plum Sky",
    "pastel_pencil": "Salt, Linen, Straw Chart, Rose Chart, Brick Chart, Bark Chart, Lead, Blue Chart, Green Chart, Plum Chart",
}
PASTELS_30 = tuple(
    (f"p-{medium[:4]}-{n}", name, medium, lab)
    for medium, names in _NAMED.items()
    for n, (name, lab) in enumerate(zip(names.split(", "), _TEN, strict=True))
)
