"""Long forms as they are being filled in: on several devices of one person."""
