"""An eye on a wing."""


def eye(place, own, ink):
    place.circle(0, 0, own.between(0.6, 1.4), fill=None, stroke=ink, stroke_width=0.3)
    place.circle(0, 0, 0.3, fill=ink, opacity=0.7)
