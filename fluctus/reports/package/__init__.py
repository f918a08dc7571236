"""Data packages: a descriptor and plain files, from which the same charts can be made elsewhere.

The descriptor is that of the open Data Package standard: resources with their fields and
types; what is ours stands under ``fluctus``.
"""
