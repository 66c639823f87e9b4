"""The stages that are built, a folder each; each registers itself (:data:`shop.stages.registry.STAGES`)."""
