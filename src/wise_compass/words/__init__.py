"""Problems in words, read into a figure and its givens, by rule and offline.

A statement becomes one stream of quantities and canonical words (``statement.py``); every figure's own words, which
stand beside it in ``figures/…/*.words`` (``lexicon.py``), say which quantity may be which given (``roles.py``); the
best whole assignment fills the figure (``filling.py``), and the figure that fits best is chosen (``reading.py``). What
is filled by a weak word, or by elimination, is doubtful and says so.
"""
