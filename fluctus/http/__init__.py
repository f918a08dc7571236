"""What every part of the API shares: refusals, problem documents, revisions, checked input."""
