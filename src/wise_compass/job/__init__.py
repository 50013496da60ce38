"""The document: a job holds sheets, a sheet holds entries; its file, its undo, its recovery, and the demo."""
