"""The reed box: which reeds a student has, how much they have played, what to buy."""
