"""A provider of identities, simulated: the staff directory of Marrowick Ferries."""
