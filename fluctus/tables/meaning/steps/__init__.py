"""Recognizers: what a table needs before its columns are looked at, one module for each."""
