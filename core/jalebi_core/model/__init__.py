"""What a mix is: components, compositions, ingredients, lines, styles, and the words and constants all rooms share."""
