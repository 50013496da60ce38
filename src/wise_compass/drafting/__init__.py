"""The drafting language: what a figure is, how a method reads, and the ways of running one."""
