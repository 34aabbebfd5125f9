"""Fits: how much larger or smaller than its number a feature is drawn, so that it comes out right. The only reader of allowances."""
