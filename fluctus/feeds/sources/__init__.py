"""Where feeds fetch from: one module for each kind of source."""
