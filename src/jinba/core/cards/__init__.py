"""The test-card catalogue: data the job owns, with what each card captures, tells, needs and is made stale by."""
