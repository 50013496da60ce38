"""The desk: the only room that knows Qt."""

from wise_compass.desk.binding import bring_in

bring_in()
