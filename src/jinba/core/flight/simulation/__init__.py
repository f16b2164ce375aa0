"""A flight simulation of its own: strips, bodies, propellers, hands. It shares no aerodynamics with the rest of ``core``.

The motion is compiled when it is first flown; ``jinba/__init__.py`` says where that is kept.
"""
