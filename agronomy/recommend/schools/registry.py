"""All schools by key, in the order in which they are shown."""

from types import ModuleType

from agronomy.recommend.schools import build_maintain, cation_balance, country_guide, low_input, replacement, sufficiency

SCHOOLS: dict[str, ModuleType] = {
    school.KEY: school for school in (sufficiency, build_maintain, replacement, cation_balance, low_input, country_guide)
}
NAMES = {key: school.NAME for key, school in SCHOOLS.items()}
