"""People, the workspaces they belong to, and signing in."""
