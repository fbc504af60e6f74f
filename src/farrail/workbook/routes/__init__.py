"""Routes: the questions that lead from an empty workbook to a first verdict, and what each answer lays on the rail."""
