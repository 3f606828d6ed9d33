"""The rack: a kit's colours ordered, told apart, replaced, and carried in and out."""
