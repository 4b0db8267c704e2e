"""What can be applied: data sheets, their tables of time, film, mixing, abrasives."""
