"""The air of a place: dew point, readings as a series, metal that follows, forecast, files of loggers."""
