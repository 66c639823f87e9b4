"""The stages that are built, a module each; each registers itself (:data:`shop.stages.registry.STAGES`)."""
