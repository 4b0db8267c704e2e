"""What is said of states: sentences, buttons, links; no page of its own."""
