"""Acts on a chart: their record, undo and redo, trials, earlier states."""
