"""Pictures that people upload: checked by content, stripped of metadata, stored once."""
