"""Open formats in and out, beside the Setup's own.

- ``pocket_table``  which tool is where, as CSV and XLSX; read with every bad row reported
- ``mounting``      a rack's mounting pattern as DXF, and a layout of pockets from one
"""
