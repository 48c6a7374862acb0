"""Pictures of made-up heads with exact truth, from which the landmark network learns.

For others:

people   ``random_person``
scenes   ``random_scene``: one person, pose, thing at the mouth, camera and light
points   the landmarks the network is taught, and where they truly lie
draw     ``draw``: picture, mask and truth of a scene
samples  ``Sample``, ``read``: a drawn picture, and many from a file
shards   ``write``: draw many, on all cores, in steps that can be stopped
"""
