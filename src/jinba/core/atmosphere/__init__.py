"""Air and wind: standard atmosphere, density at the site, wind components."""
