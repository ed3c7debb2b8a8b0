"""Networks solved: volts and amperes, contacts brought to rest over time. Knows no plan and no trade."""
