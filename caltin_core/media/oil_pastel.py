"""Oil pastel: soft, greasy, blends itself with what lies below; light pulled over dark takes some of it along. Common practice."""

from caltin_core.media.medium import Medium

OIL_PASTEL = Medium(
    "oil_pastel", "oil pastel", "film", deposit=1.4, drag=0.3, merge=0.6, even=0.5, scatter_dark=0.3, scatter_light=0.8,
    grip_after=0.6, grip_again=0.7, slick=False, loose=0.9, lasts=2500.0,
)  # fmt: skip
