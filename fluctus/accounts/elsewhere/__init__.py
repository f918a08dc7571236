"""Signing in through the provider of an organization, by OpenID Connect."""
