"""Handing over: reports as PDF and slides, workbooks, and data packages."""
