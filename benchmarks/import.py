# The same file by pandas.read_csv and to_sql into SQLite.
import json
import sqlite3
import sys
import time

import pandas as pd

start = time.perf_counter()
frame = pd.read_csv(sys.argv[1])
with sqlite3.connect(sys.argv[2]) as connection:
    frame.to_sql("log", connection, index=False)
print(json.dumps({"ms": 1000 * (time.perf_counter() - start)}))
