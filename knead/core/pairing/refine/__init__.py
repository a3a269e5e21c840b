"""An assignment set right by what prices do not tell: order, contact, boxes and heads that turn."""
