"""What the screens show, as frozen dataclasses: the API's schema is made from them."""
