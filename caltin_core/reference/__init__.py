"""Reading a reference picture: places, tones, values, undertone, and the range paper can show."""
