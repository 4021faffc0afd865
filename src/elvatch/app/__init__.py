"""What can be done with a site and with the stock, once, for the web, the command line and scripts alike."""
