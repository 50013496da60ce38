"""What leaves the desk: files, printed pages, the clipboard, and how true a printer and a screen are."""
