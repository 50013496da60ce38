"""Paths of points: linkages, hanging chains, loci and curves of rays, cams and gears."""
