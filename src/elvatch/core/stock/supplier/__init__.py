"""A supplier of made-up packs that ships with the application, so that bringing in can be learned and tested."""
