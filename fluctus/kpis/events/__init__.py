"""Events that are told with KPIs, and calendar files of them."""
