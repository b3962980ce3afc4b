"""Set-up of an unknown pad: finds the code of each control from the movements of a person."""
