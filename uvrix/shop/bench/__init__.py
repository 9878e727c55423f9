"""Memory runs dropped or typed, marks, places that repairs proved."""
