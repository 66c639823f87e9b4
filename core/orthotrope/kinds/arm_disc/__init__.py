"""A disc beside the machine, from whose ready place an arm with two hands brings the tool."""
