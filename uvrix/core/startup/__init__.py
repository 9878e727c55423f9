"""Start-up: which rails and signals need which, where the chain breaks, what to probe next."""
