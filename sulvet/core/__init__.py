"""Everything Sulvet computes: no Django, no HTTP; arrays in, data out."""

#: Version of the measuring engine. Stored with every derived row: a row made
#: by another version is recomputed, never mixed with new ones.
ENGINE_VERSION = "13"
#: Version of the ear: what another one heard is listened to again.
EAR_VERSION = "6"
