"""Practice: rounds at six levels, made and judged by the same rules that judge a plan; nothing in them is written."""
