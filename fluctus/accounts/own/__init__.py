"""A person's own account: password, and the browsers they are signed in with."""
