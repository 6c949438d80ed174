"""Every English sentence about a verdict, finding or standing: one function per code, British spelling, verdict first."""
