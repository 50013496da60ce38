"""The sheet: paper, scale, lines, lettering and placing; turns runs into a drawing in sheet millimetres."""
