"""Values made from values: aggregation, differences, thinning."""
