"""What a plot is given anyway: nutrient credits, what nitrogen pays, levels and figures of one's own."""
