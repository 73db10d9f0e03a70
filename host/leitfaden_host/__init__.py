"""What runs on one machine: the database cluster, the web processes, the workers; starting, watching, stopping, keeping
copies.
"""
