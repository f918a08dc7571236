"""The booking office of Marrowick Ferries: a simulated source, whose tables grow with the clock."""
