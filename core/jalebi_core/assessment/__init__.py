"""What a mix is and how it will eat: figures, outcomes, words, reasons."""
