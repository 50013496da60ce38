"""What whoever makes a thing from its pattern is to be warned of: short, and said once."""

SHEET = "Cut edges of sheet are sharp. No gloves near rotating tools. Shears and brakes are for those trained on them."
DUCT = (
    "Ducts, flues and vessels under pressure or carrying gas: licensed practice "
    "and local codes come before this pattern."
)
