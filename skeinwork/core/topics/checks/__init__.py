"""What people say of topics without knowing what the model says: intruders found, documents coded by hand."""
