"""What the user can do, one file a subject; menus, Ctrl+K and the list of keys read it."""
