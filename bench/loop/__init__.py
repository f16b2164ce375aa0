"""The closed loop: whole fleets flown, corrected and flown again in a truth that shares no aerodynamics with the estimator."""
