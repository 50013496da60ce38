"""What the window shows: the job, what is selected, its run, its hands, and what an edit does to them."""
