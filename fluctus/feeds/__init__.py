"""Feeds: tables that are fetched by themselves, into one or several KPIs."""
