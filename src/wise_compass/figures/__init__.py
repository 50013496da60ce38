"""The catalogue: one module a family, each figure beside its methods. The package finds its modules by itself."""
