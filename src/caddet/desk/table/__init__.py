"""The table: pieces lying at true size, tapes along two sides, and what hands can do."""
