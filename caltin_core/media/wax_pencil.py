"""Wax pencil: translucent, merges under pressure, may bloom; a burnish closes the tooth. Common practice."""

from caltin_core.media.medium import Medium

WAX_PENCIL = Medium("wax_pencil", "wax pencil", "film", merge=0.6, even=0.35)
