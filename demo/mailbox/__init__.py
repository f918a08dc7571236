"""A mailbox in the place of a mail server: it keeps the newest letters, to be read on a page."""
