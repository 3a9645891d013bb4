"""Nitrogen that organic materials give over weeks."""

from math import exp

from agronomy.tables import Tables
from agronomy.tables.material import Material

# By what a material is; what is not named here gives its nitrogen at once or not at all.
CLASSES = {
    "protein": ("blood_meal", "feather_meal", "fish_meal", "hoof_and_horn", "fish_emulsion", "fish_hydrolysate", "crab_shell_meal", "sheep_wool_pellets", "guano_nitrogen"),
    "seed_meal": ("soybean_meal", "cottonseed_meal", "rapeseed_meal", "maize_gluten_meal", "bone_meal_steamed"),
    "pellets": ("alfalfa_pellets", "poultry_pellets", "worm_castings", "kelp_meal", "rabbit_manure"),
    "litter": ("poultry_litter",),
    "manure": ("cattle_manure", "pig_manure", "sheep_manure", "horse_manure", "cattle_slurry", "pig_slurry", "digestate", "biosolids", "vinasse"),
    "compost": ("garden_compost", "manure_compost", "green_waste_compost", "mushroom_compost", "leaf_mould", "coffee_grounds", "spent_grain", "seaweed_fresh"),
}  # fmt: skip
CLASS_OF = {key: name for name, keys in CLASSES.items() for key in keys}


def released(share_fast: float, fast: float, slow: float, q10: float, weeks: float, warmth_c: float, moisture: float = 1.0) -> float:
    """Share of organic nitrogen released after some weeks at a soil warmth [°C]. Source: manure-release; valid 5 to 35 °C, within 30 %.

    >>> round(released(0.62, 0.70, 0.010, 1.3, 2, 25), 3), round(100 * released(0.50, 0.45, 0.008, 2, 8, 16), 1)
    (0.475, 44.4)
    """
    if warmth_c < 5:
        return 0.0
    pace = q10 ** ((warmth_c - 25) / 10) * moisture
    return share_fast * (1 - exp(-fast * pace * weeks)) + (1 - share_fast) * (1 - exp(-slow * pace * weeks))


def released_by(material: Material, weeks: float, warmth_c: float, tables: Tables) -> float:
    """Share of a material's nitrogen that a crop can use after some weeks: at once for salts, by class for organics, evenly over months for coated ones."""
    name = CLASS_OF.get(material.key)
    if name:
        row = tables.release[name]
        return released(row["fast_share"], row["fast_per_week"], row["slow_per_week"], row["q10"], weeks, warmth_c)
    if tables.material_traits[material.key]["n_form"] == "coated":
        return min(1.0, weeks / 16)
    return 1.0 if weeks > 0 else 0.0
