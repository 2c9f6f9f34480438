"""The trade's computation. Knows no screen, no clock and no global state; lengths are millimetres.

Axes everywhere: x to the right, y *down*, as a piece lies on the table. A point is a complex
number ``x + yj``, so that moving is adding and turning is multiplying.
"""
