"""Items to mass, balance and inertia; weighing; ballast."""
