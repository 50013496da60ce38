"""The commands, a module each: ``SAYS`` is what its help says, ``options`` what it takes, ``handle`` does it."""
