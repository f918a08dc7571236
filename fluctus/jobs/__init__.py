"""The life of a job: asked for, waiting, running, and ended once, whoever needs one."""
