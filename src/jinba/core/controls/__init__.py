"""Controls: trim in clicks, degrees, millimetres and clevis turns; throws; thrust shims."""
