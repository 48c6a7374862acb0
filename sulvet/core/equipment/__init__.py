"""Reed and mouthpiece by themselves, measured in one picture from close by."""
