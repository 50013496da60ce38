"""The command line: a command a module, its parser, and what every command shares."""
