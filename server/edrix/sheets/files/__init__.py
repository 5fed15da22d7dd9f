"""Reading sheets and marks as files of other programs: CSV, XLSX and edrix-sheet/1, in and out."""
