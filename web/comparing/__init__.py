"""Side by side: the schools, which crops fit the ground, ground without a test, the balance of the soil."""
