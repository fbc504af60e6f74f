"""Routes: the questions from an empty workbook to a first verdict, and what each answer adds."""
