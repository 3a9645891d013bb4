"""All that is drawn, as shapes for SVG: rake, map, charts, labels."""
