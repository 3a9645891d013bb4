"""What is put on: spreaders, measures, manure and loads, bales, trace elements, lime and sulfur by choice."""
