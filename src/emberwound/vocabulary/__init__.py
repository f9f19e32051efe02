"""The words that all floors share: errors, time, reasons, ledgers, events and orders."""
