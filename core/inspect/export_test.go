package inspect

// Student is student, to be held against a table.
var Student = student
