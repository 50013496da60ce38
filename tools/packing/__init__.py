"""Packages of the program for other machines: what goes into each, and how it is checked."""
