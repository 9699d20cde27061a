"""Files of other programs: tables as CSV, Parquet and spreadsheet, pages as PDF."""
