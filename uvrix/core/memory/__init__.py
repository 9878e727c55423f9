"""Memory-test reports (docs/formats §5 and §6) and what they say about the chips.

metadata.py   the keys of a report: condition, result, refusal
lines.py      a stream cut into blocks of whole lines, encodings and giant lines refused
words.py      columns of text to channels, masks and counts, many rows at once
evidence.py   what is kept of the rows: counts by channel and line, and a sample of them
own_csv.py    the full and the tally report (CSV)
own_json.py   the lines report (JSON lines)
reader_file.py  a taught reader's file
taught.py     any text, by a taught reader
fixed_width.py  its fast way for blocks whose lines are all of one length
teaching.py   a reader learned from a sample and a few marked words
reading.py    any report: picks the reader
sites.py      from channels to the chips of a board
finding/      what the errors look like, kind by kind
locate.py     all of it: reports and a board to chips, finding, next actions
"""
