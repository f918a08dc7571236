"""Marrowick Ferries, a made-up operator of car ferries: its KPIs and their stories."""
