"""From observations and a chart state to an analysed chart; pure, without queries."""
