"""The record of who did what: sign-ins, roles, links, exports, deletions."""
