"""From logged measures to what they mean: update, tendencies, causes with evidence, next best card."""
