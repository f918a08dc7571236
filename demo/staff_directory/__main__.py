"""``python -m demo.staff_directory PORT``: serves until it is stopped."""

import os
import sys

from demo.staff_directory.directory import Directory, server_of

if __name__ == "__main__":
    server_of(Directory(os.environ["OIDC_CLIENT_SECRET"]), int(sys.argv[1])).serve_forever()
