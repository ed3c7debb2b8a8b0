"""Will it start on what feeds it: a supply, its loads and their calls, judged over time; logs of what was measured."""
