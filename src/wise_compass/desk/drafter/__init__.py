"""What belongs to the drafter and not to the job: practice, class, logbook, plan, kit, photographs."""
