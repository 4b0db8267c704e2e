"""What is asked and seen: topics, answers, findings, inspections, work given away."""
